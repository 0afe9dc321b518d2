import { TriangleAlert } from 'lucide-react'
import { useState } from 'react'
import { useWatch } from 'react-hook-form'
import { Link, useNavigate, useParams, useSearchParams } from 'react-router'
import { api, take, type Schemas } from '../../api/client'
import { refresh, useDiagnosis, useFindable, useInstrumentFile, useMay, useSymptoms } from '../../api/queries'
import { useWrite } from '../../api/write'
import { Drawing } from '../../drawings/Drawing'
import { useEntry } from '../../shell/entry'
import { useKeys } from '../../shell/keys'
import { useNotice } from '../../shell/notice'
import { useWords } from '../../api/words'

const risks = {
  look: 'only look',
  touch: 'touch gently',
  adjust: 'adjust with care',
  trained: 'for trained hands only',
} as const

/** What is wrong? From what the player says to what is behind it, safest and cheapest checks first. */
export default function Diagnose() {
  const { id = '' } = useParams()
  const { data: file, error } = useInstrumentFile(id)
  const [query] = useSearchParams()
  const [symptom, setSymptom] = useState(query.get('symptom') ?? '')
  if (error && !file) return <p role="alert">{error.message}</p>
  if (!file) return <p className="quiet">Opening the case…</p>
  const { listed } = file
  return (
    <article className="mx-auto grid max-w-5xl gap-x-8 md:grid-cols-[minmax(220px,320px)_1fr]">
      <Drawing name={listed.drawing} label="" className="hidden max-h-[62dvh] w-full md:block" />
      <div>
        <h1>
          What is wrong with{' '}
          <Link to={`/instruments/${id}`} className="tracking-wide">
            {listed.tag}
          </Link>
          ?
        </h1>
        <p className="quiet">
          {listed.kind_name} {listed.size}
        </p>
        {symptom ? (
          <Checks id={id} symptom={symptom} onLeave={() => setSymptom('')} />
        ) : (
          <Symptoms id={id} onChoose={setSymptom} />
        )}
      </div>
    </article>
  )
}

function Symptoms({ id, onChoose }: { id: string; onChoose: (key: string) => void }) {
  const { data: symptoms } = useSymptoms(id)
  const [other, setOther] = useState(false)
  return (
    <>
      <ul className="mt-3">
        {symptoms?.map((s) => (
          <li key={s.key} className="line">
            <button className="w-full cursor-pointer py-2.5 text-left" onClick={() => onChoose(s.key)}>
              {s.name}
            </button>
          </li>
        ))}
      </ul>
      <button className="because mt-3" onClick={() => setOther(!other)} aria-expanded={other}>
        I know what it is
      </button>
      {other && <Known id={id} />}
    </>
  )
}

/** A finding reported without a diagnosis. */
function Known({ id }: { id: string }) {
  const { data: findable } = useFindable(id, true)
  const report = useReport(id)
  const { register, submit, control } = useEntry({ defaultValues: { code: '', note: '' } })
  const code = useWatch({ control, name: 'code' })
  return (
    <form className="mt-2 grid gap-2" onSubmit={submit((v) => report.mutate(v))}>
      <select className="select w-full" aria-label="Finding" {...register('code')}>
        <option value="">Choose…</option>
        {findable?.map((f) => (
          <option key={f.code} value={f.code}>
            {f.name}
          </option>
        ))}
      </select>
      <input
        className="input w-full"
        aria-label="A word about it"
        placeholder="A word about it"
        {...register('note')}
      />
      {report.error && (
        <p role="alert" className="text-error">
          {report.error.message}
        </p>
      )}
      <button className="btn btn-primary justify-self-start" disabled={code === '' || report.isPending}>
        Report it
      </button>
    </form>
  )
}

function useReport(id: string) {
  const navigate = useNavigate()
  const notice = useNotice()
  return useWrite({
    send: ({ code, note, symptom }: { code: string; note: string; symptom?: string; toShop?: boolean }, newID) =>
      take(
        api.POST('/api/v1/instruments/{id}/findings', {
          params: { path: { id } },
          body: { id: newID(), code, note, ...(symptom ? { symptom } : {}) },
        }),
      ),
    onSuccess: async (_, { toShop }) => {
      notice.show('It stands in the file.')
      await refresh()
      void navigate(`/instruments/${id}${toShop ? '?to-shop=1' : ''}`)
    },
  })
}

function Checks({ id, symptom, onLeave }: { id: string; symptom: string; onLeave: () => void }) {
  const [answers, setAnswers] = useState('')
  const { data: d, error } = useDiagnosis(id, symptom, answers)
  const say = (a: 'y' | 'n') => () => {
    if (d?.ask) setAnswers(answers + a)
  }
  useKeys({ y: say('y'), n: say('n'), Escape: onLeave, k: () => setAnswers(answers.slice(0, -1)) })
  if (error && !d) return <p role="alert">{error.message}</p>
  if (!d) return null
  return (
    <section className="mt-3" aria-label="Diagnosis">
      <h2>{d.symptom}</h2>
      {d.cautions.map((c) => (
        <p key={c} className="mt-1 flex gap-1.5 font-bold">
          <TriangleAlert size={18} className="mt-0.5 shrink-0 text-error" aria-label="Caution" /> {c}
        </p>
      ))}
      {d.ask && <Ask question={d.ask} onSay={say} />}
      {d.end && <End id={id} symptom={symptom} end={d.end} />}
      <p className="mt-5 flex gap-3">
        {answers !== '' && (
          <button className="btn btn-sm" onClick={() => setAnswers(answers.slice(0, -1))}>
            One step back
          </button>
        )}
        <button className="btn btn-sm" onClick={onLeave}>
          Something else
        </button>
      </p>
    </section>
  )
}

function Ask({ question, onSay }: { question: Schemas['Question']; onSay: (a: 'y' | 'n') => () => void }) {
  return (
    <div className="mt-4">
      <p className="quiet text-sm">
        Check {question.number} of {question.of}, {risks[question.risk]}
      </p>
      {question.try && (
        <ol className="mt-2 list-decimal space-y-1 pl-5" aria-label="Quick fix">
          {question.try.map((t) => (
            <li key={t}>{t}</li>
          ))}
        </ol>
      )}
      <p className="mt-2 text-xl font-bold">{question.text}</p>
      {question.caution && <p className="mt-1 text-error">{question.caution}</p>}
      <div className="mt-3 grid grid-cols-2 gap-3">
        <button className="btn btn-lg btn-outline btn-primary" onClick={onSay('y')}>
          Yes
        </button>
        <button className="btn btn-lg btn-outline btn-primary" onClick={onSay('n')}>
          No
        </button>
      </div>
    </div>
  )
}

function End({ id, symptom, end }: { id: string; symptom: string; end: Schemas['End'] }) {
  const { action, toShop } = useWords()
  const report = useReport(id)
  const may = useMay('inspect')
  const mayAsk = useMay('change instruments')
  const f = end.finding
  if (end.fixed)
    return (
      <p className="mt-4 text-lg" role="status">
        <b>That was it.</b> {f?.cause} It can be played.
      </p>
    )
  if (!f) return null
  return (
    <div className="mt-4 border-l-3 border-primary pl-3" role="status">
      <p className="text-xl font-bold">{f.name}</p>
      <p className="quiet">
        {f.seen} {f.cause}
      </p>
      <p className="mt-1">{action(f.action)}</p>
      {f.never?.map((n) => (
        <p key={n} className="mt-1 flex gap-1.5 font-bold">
          <TriangleAlert size={16} className="mt-0.5 shrink-0 text-error" aria-label="Caution" /> {n}
        </p>
      ))}
      <ol className="mt-2 list-decimal pl-5" aria-label="First aid">
        {f.first_aid?.map((line) => (
          <li key={line}>{line}</li>
        ))}
      </ol>
      {report.error && (
        <p role="alert" className="text-error">
          {report.error.message}
        </p>
      )}
      {may && (
        <p className="mt-3 flex flex-wrap gap-2">
          <button
            className="btn btn-primary"
            disabled={report.isPending}
            onClick={() => report.mutate({ code: f.code, note: '', symptom })}
          >
            Put it in the file
          </button>
          {mayAsk && toShop(f.action) && (
            <button
              className="btn"
              disabled={report.isPending}
              onClick={() => report.mutate({ code: f.code, note: '', symptom, toShop: true })}
            >
              And to a shop with it
            </button>
          )}
        </p>
      )}
    </div>
  )
}
