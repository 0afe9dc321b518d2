import { useState } from 'react'
import { Link } from 'react-router'
import { api, take, type Schemas } from '../../api/client'
import { refresh } from '../../api/queries'
import { useWrite } from '../../api/write'
import { useEntry } from '../../shell/entry'
import { Field } from '../../shell/Field'
import { useNotice } from '../../shell/notice'
import { clockTime } from '../../words'
import { reasonWords } from './words'

type Props = { run: Schemas['BenchRun']; may: boolean }

/** How far every instrument is, and the ways off the bench. */
export function OnTheBench({ run, may }: Props) {
  const notice = useNotice()
  const end = useWrite({
    send: () => take(api.POST('/api/v1/bench/runs/{id}/end', { params: { path: { id: run.id } } })),
    onSuccess: refresh,
    onError: (problem) => notice.show(problem.message),
  })
  const [sure, setSure] = useState(false)
  return (
    <section aria-label="On the bench" className="mt-8">
      <h2>On the bench</h2>
      <ul>
        {run.items.map((i) => (
          <OneItem key={i.instrument_id} run={run} item={i} may={may} />
        ))}
      </ul>
      {may && !run.ended_at && (
        <p className="mt-4">
          {sure ? (
            <>
              What is not finished leaves the bench and stays held.{' '}
              <button className="btn btn-sm btn-error mr-2" disabled={end.isPending} onClick={() => end.mutate()}>
                End the work
              </button>
              <button className="btn btn-sm" onClick={() => setSure(false)}>
                Go on
              </button>
            </>
          ) : (
            <button className="because" onClick={() => setSure(true)}>
              end the work
            </button>
          )}
        </p>
      )}
    </section>
  )
}

type ItemProps = Props & { item: Schemas['BenchItem'] }

function OneItem({ run, item, may }: ItemProps) {
  const [asking, setAsking] = useState(false)
  const { register, submit } = useEntry({ defaultValues: { because: '' } })
  const off = useWrite({
    send: ({ because }: { because: string }) =>
      take(
        api.POST('/api/v1/bench/runs/{id}/take-off', {
          params: { path: { id: run.id } },
          body: { instrument_id: item.instrument_id, because },
        }),
      ),
    onSuccess: refresh,
  })
  const done = item.steps.filter((s) => s.state === 'done').length
  return (
    <li className="line py-1.5">
      <div className="grid grid-cols-[5rem_1fr_auto] items-center gap-x-3 sm:grid-cols-[5rem_1fr_10rem_auto]">
        <Link to={`/instruments/${item.instrument_id}`} className="font-bold tracking-wide">
          {item.tag}
        </Link>
        <span className="min-w-0">
          {item.kind_name} <span className="quiet text-sm">{reasonWords[item.reason]}</span>
          <span className="quiet block text-sm">{standing(item)}</span>
        </span>
        <progress
          className="progress progress-primary hidden w-full sm:block"
          aria-label={`${item.tag}, steps done`}
          value={done}
          max={item.steps.length}
        />
        {may && item.state === 'open' && !run.ended_at ? (
          <button className="because" aria-label={`take off ${item.tag}`} onClick={() => setAsking(!asking)}>
            take off
          </button>
        ) : (
          <span />
        )}
      </div>
      {asking && item.state === 'open' && (
        <form className="my-2 max-w-md" onSubmit={submit((v) => off.mutate(v))}>
          <Field label={`Why ${item.tag} leaves the bench unfinished`} error={off.error?.message}>
            <input className="input w-full" maxLength={200} autoFocus {...register('because')} />
          </Field>
          <button className="btn btn-primary btn-sm mt-2" disabled={off.isPending}>
            Take it off
          </button>
        </form>
      )}
    </li>
  )
}

function standing(item: Schemas['BenchItem']) {
  if (item.state === 'taken off') return `taken off: ${item.taken_off}`
  if (item.state === 'finished')
    return (
      item.stays_held ||
      (item.free_at && item.finished_at && item.free_at > item.finished_at
        ? `finished at ${clockTime(item.finished_at)}, lies until ${clockTime(item.free_at, true)}`
        : `finished at ${item.finished_at ? clockTime(item.finished_at) : ''}, free`)
    )
  const step = item.steps.find((s) => s.state !== 'done')
  return step ? `step ${String(step.n + 1)} of ${String(item.steps.length)}: ${step.name}` : ''
}
