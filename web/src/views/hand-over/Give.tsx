import { useState } from 'react'
import { Link, useParams } from 'react-router'
import { api, onceKey, Problem, take, type Schemas } from '../../api/client'
import { refresh, useHandOverSheet } from '../../api/queries'
import { useKeys } from '../../shell/keys'
import { KitStates } from '../../shell/KitStates'
import { useNotice } from '../../shell/notice'
import { AgreementStep, type Agreed } from './AgreementStep'
import { ConditionStep, type Seen } from './ConditionStep'
import { Done } from './Done'
import { useDraft } from '../../api/drafts'
import { useWrite } from '../../api/write'
import { FitStep } from './FitStep'
import { newID } from '../../api/id'

type Draft = Seen & {
  id: string
  step: number
  checks: Schemas['Checks']
  kit: Record<string, Schemas['KitThing']['state']>
  due_back_on: string | null
  how: Agreed['how']
  by: string
}

const fresh = (): Draft => ({
  id: newID(),
  step: 0,
  checks: {},
  findings: [],
  photos: [],
  kit: {},
  due_back_on: null,
  how: 'screen',
  by: '',
})

/** One hand-over, about a minute: fit, condition, kit, agreement, label. Nothing is handed out before the last step. */
export default function Give() {
  const { instrument = '', player = '' } = useParams()
  return <OneHandOver key={instrument + player} instrument={instrument} player={player} />
}

function OneHandOver({ instrument, player }: { instrument: string; player: string }) {
  const { draft, change, forget } = useDraft(`give/${instrument}/${player}`, fresh)
  const [strokes, setStrokes] = useState<[number, number][][]>([]) // never kept half-way
  const [given, setGiven] = useState(false)
  const { data: sheet, error } = useHandOverSheet(instrument, player, draft.checks)
  const notice = useNotice()
  const dueBack = draft.due_back_on ?? sheet?.due_back_on ?? ''
  const give = useWrite({
    send: () =>
      take(
        api.POST('/api/v1/hand-overs', {
          params: { header: onceKey(draft.id) }, // so that a lost reply does no harm
          body: {
            id: draft.id,
            player_id: player,
            instrument_id: instrument,
            checks: draft.checks,
            findings: draft.findings,
            photos: draft.photos,
            kit: draft.kit,
            ...(dueBack ? { due_back_on: dueBack } : {}),
            signature: {
              how: draft.how,
              ...(draft.how === 'later' ? {} : { by: draft.by }),
              ...(draft.how === 'screen' ? { strokes } : {}),
            },
          },
        }),
      ),
    onSuccess: async (result) => {
      notice.show(`${sheet?.instrument.tag ?? ''} is handed out to ${sheet?.player ?? ''}.`, result.events)
      setGiven(true)
      forget()
      await refresh()
    },
  })
  const steps = ['Fit', 'Condition', 'Kit', 'Agreement'].filter((s) => s !== 'Fit' || sheet?.fit)
  const at = Math.min(draft.step, steps.length - 1)
  const last = at === steps.length - 1
  const next = () => {
    if (last) give.mutate()
    else change({ step: at + 1 })
  }
  useKeys({
    Enter: () => {
      if (!sheet || given || give.isPending || sheet.refused) return false
      next()
    },
  })
  if (error && !sheet) return <p role="alert">{error.message}</p>
  if (!sheet) return <p className="quiet">Opening the case…</p>
  if (given) return <Done sheet={sheet} handOver={draft.id} signed={draft.how !== 'later'} />
  const { wrong } = give
  const step = steps[at] ?? 'Condition'
  return (
    <section aria-label="Hand-over">
      <h1>
        {sheet.instrument.tag}{' '}
        <span className="font-normal">
          {sheet.instrument.kind_name} {sheet.instrument.size} to {sheet.player}
        </span>
      </h1>
      {sheet.refused && (
        <p role="alert" className="mt-2 border-l-3 border-error pl-2">
          {sheet.refused}{' '}
          <Link className="link" to="/hand-out">
            Choose another
          </Link>
        </p>
      )}
      <div className="mt-4 grid gap-6 md:grid-cols-[150px_minmax(0,640px)]">
        <ol className="flex gap-x-4 md:block" aria-label="Steps">
          {steps.map((s, n) => (
            <li key={s}>
              <button
                type="button"
                aria-current={n === at ? 'step' : undefined}
                className={`cursor-pointer border-primary py-1.5 md:w-full md:border-l-3 md:pl-3 md:text-left ${
                  n === at ? 'font-bold' : 'quiet md:border-transparent'
                }`}
                onClick={() => change({ step: n })}
              >
                <span aria-hidden className="mr-1.5">
                  {n < at ? '✓' : n + 1}
                </span>
                {s}
              </button>
            </li>
          ))}
        </ol>
        <div>
          {step === 'Fit' && sheet.fit && (
            <FitStep sheet={sheet} fit={sheet.fit} checks={draft.checks} onChange={(checks) => change({ checks })} />
          )}
          {step === 'Condition' && <ConditionStep sheet={sheet} seen={draft} errors={wrong} onChange={change} />}
          {step === 'Kit' && (
            <>
              <p className="quiet mb-1">Everything counts as there unless you say otherwise.</p>
              <KitStates
                things={sheet.kit}
                states={draft.kit}
                onChange={(supply, state) => change({ kit: { ...draft.kit, [supply]: state } })}
              />
            </>
          )}
          {step === 'Agreement' && (
            <AgreementStep
              sheet={sheet}
              dueBack={dueBack}
              agreed={{ how: draft.how, by: draft.by, strokes }}
              errors={wrong}
              onDueBack={(due_back_on) => change({ due_back_on })}
              onChange={({ strokes, ...part }) => {
                change(part)
                setStrokes(strokes)
              }}
            />
          )}
          {give.error && (
            <p role="alert" className="mt-3 text-error">
              {give.error.message}{' '}
              {give.error instanceof Problem &&
                !give.error.passing &&
                'Nothing was handed out; what you noted is kept here.'}
            </p>
          )}
          <div className="mt-5 flex items-center gap-3">
            <button
              className="btn btn-primary"
              disabled={give.isPending || (last && sheet.refused !== '')}
              onClick={next}
            >
              {last ? 'Hand out' : 'Next'}
            </button>
            <Link to="/hand-out" className="btn">
              Leave it for now
            </Link>
            {at > 0 && (
              <button className="because ml-auto" onClick={() => change({ step: at - 1 })}>
                back
              </button>
            )}
          </div>
        </div>
      </div>
    </section>
  )
}
