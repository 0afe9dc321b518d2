import { useState } from 'react'
import { useWatch } from 'react-hook-form'
import { Link, useParams, useSearchParams } from 'react-router'
import { api, take, type Schemas } from '../../api/client'
import { useWrite } from '../../api/write'
import { Drawing } from '../../drawings/Drawing'
import { useEntry } from '../../shell/entry'
import { useKeys } from '../../shell/keys'
import { NotThere } from '../../shell/NotThere'
import { useNotice } from '../../shell/notice'
import { useClass } from './queries'

type Exercise = Schemas['Exercise']

/** A question in front of the class; hands are counted, then the right answer is shown. Keys: Enter shows it, then goes on. */
export default function ClassDrill() {
  const { ensemble = '', kind = '' } = useParams()
  const [query] = useSearchParams()
  const language = query.get('l') ?? 'en'
  const [last, setLast] = useState('')
  const { data: lesson, isPlaceholderData, isError } = useClass(ensemble, kind, last, language)
  const q = lesson?.question
  return (
    <div className="fixed inset-0 z-50 flex flex-col overflow-auto bg-base-100 p-[3vw]" data-theme="pit">
      <div className="flex items-baseline gap-4">
        {lesson && (
          <>
            <p className="quiet text-[1.6vw]">
              {lesson.ensemble}, {lesson.kinds.find((k) => k.key === lesson.kind)?.name}
            </p>
            <p className="quiet ml-auto text-[1.6vw]">
              {lesson.known} of {lesson.all} known
            </p>
          </>
        )}
        <Link className="btn btn-sm btn-ghost" to="/cards/drills">
          Close
        </Link>
      </div>
      {isError && <NotThere back="/cards/drills" name="the drills" />}
      {q ? (
        <Asked
          key={`${q.id} ${last}`}
          exercise={q}
          busy={isPlaceholderData}
          ensemble={ensemble}
          kind={kind}
          onNext={() => setLast(q.id)}
        />
      ) : (
        lesson && <h1 className="m-auto text-[3.4vw]">That was all for today. Well done.</h1>
      )}
    </div>
  )
}

function Asked(props: { exercise: Exercise; busy: boolean; ensemble: string; kind: string; onNext: () => void }) {
  const { exercise: q } = props
  const notice = useNotice()
  const [shown, setShown] = useState(false)
  const keep = useWrite({
    send: (hands: { right: number; wrong: number }) =>
      take(
        api.POST('/api/v1/drill', { body: { ensemble: props.ensemble, kind: props.kind, question: q.id, ...hands } }),
      ),
    onSuccess: props.onNext,
    onError: (problem) => notice.show(problem.message),
  })
  useKeys({
    Enter: () => setShown(true),
    y: () => shown && keep.mutate({ right: 1, wrong: 0 }),
    n: () => shown && keep.mutate({ right: 0, wrong: 1 }),
  })
  const order = q.form === 'order'
  const place = (n: number) => q.right.indexOf(n)
  return (
    <>
      <h1 className="mt-[1vw] text-[3.6vw]">{order ? 'Put these in order' : q.ask}</h1>
      {q.about && <p className="text-[2.2vw]">{q.about}</p>}
      <ol className={`mt-[1.5vw] grid flex-1 content-start gap-[1vw] ${q.form === 'scene' ? 'grid-cols-2' : ''}`}>
        {q.answers.map((a, n) => {
          const right = shown && place(n) >= 0
          return (
            <li
              key={a.text}
              className={`flex flex-wrap items-center gap-[1.5vw] border-l-[0.8vw] px-[1.5vw] py-[0.5vw] text-[3vw] leading-tight ${right && !order ? 'border-success bg-base-200 font-bold' : 'border-base-300'} ${shown && !right ? 'opacity-60' : ''}`}
            >
              <b className="w-[3vw] tabular-nums">{n + 1}</b>
              {a.scene && <Drawing name={a.scene} label="" className="h-[22vw] w-[34vw] shrink-0" />}
              <span className={a.scene && !shown ? 'sr-only' : ''}>{a.text}</span>
              {shown && order && <b className="ml-auto text-success">{place(n) + 1}.</b>}
              {right && !order && <span className="ml-auto text-success">right</span>}
            </li>
          )
        })}
      </ol>
      <div className="mt-[1vw] flex flex-wrap items-center gap-2">
        {shown ? (
          <Hands busy={keep.isPending || props.busy} onCount={keep.mutate} />
        ) : (
          <>
            <p className="text-[1.8vw]">
              {order
                ? 'Which number comes first? Hands up.'
                : `Hands up: ${q.answers.length === 2 ? 'one finger or two' : 'as many fingers as the number'}.`}
            </p>
            <button className="btn btn-primary ml-auto" onClick={() => setShown(true)}>
              Show the answer
            </button>
          </>
        )}
      </div>
    </>
  )
}

/** How many were right: counted, or by eye. */
function Hands({ busy, onCount }: { busy: boolean; onCount: (hands: { right: number; wrong: number }) => void }) {
  const { register, submit, control } = useEntry({ defaultValues: { right: '', wrong: '' } })
  const hands = useWatch({ control })
  const counted = Number(hands.right) + Number(hands.wrong) > 0
  const field = (label: 'right' | 'wrong') => (
    <label className="flex items-center gap-1">
      {label}
      <input className="input w-20" type="number" min={0} max={500} inputMode="numeric" {...register(label)} />
    </label>
  )
  return (
    <>
      <button className="btn btn-success" disabled={busy} onClick={() => onCount({ right: 1, wrong: 0 })}>
        Most were right
      </button>
      <button className="btn btn-warning" disabled={busy} onClick={() => onCount({ right: 0, wrong: 1 })}>
        Many were wrong
      </button>
      <form
        className="ml-auto flex flex-wrap items-center gap-2"
        onSubmit={submit((hands) => {
          if (counted) onCount({ right: Number(hands.right), wrong: Number(hands.wrong) })
        })}
      >
        <span className="quiet">or counted:</span>
        {field('right')}
        {field('wrong')}
        <button className="btn" disabled={busy || !counted}>
          Count
        </button>
      </form>
    </>
  )
}
