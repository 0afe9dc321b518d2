import { useState } from 'react'
import { Link, useParams } from 'react-router'
import { api, take } from '../../api/client'
import { refresh, useBenchRun, useMay } from '../../api/queries'
import { useWrite } from '../../api/write'
import { useKeys } from '../../shell/keys'
import { useNotice } from '../../shell/notice'
import { clockTime, count } from '../../words'
import { Cautions } from './Cautions'
import { Hand } from './Hand'
import { OnTheBench } from './OnTheBench'
import { StepCard } from './StepCard'
import type { Current, Ticking } from './steps'
import { Timers } from './Timers'
import { useServerClock } from './useServerClock'

/** Work at the bench: what runs, what to do now, how far everything is. Any number of phones may look at it at once. */
export default function Run() {
  const { id = '' } = useParams()
  const { data: run, error, dataUpdatedAt } = useBenchRun(id)
  const now = useServerClock(run?.now, dataUpdatedAt)
  const [me, setMe] = useState<number | null>(null)
  const [read, setRead] = useState(() => sessionStorage.getItem(readKey(id)) === 'yes')
  const may = useMay('finish care')
  const mayOverride = useMay('clear stops')
  const notice = useNotice()
  const tick = useWrite({
    send: ({ item, step, act, override }: Ticking) =>
      take(
        api.POST('/api/v1/bench/runs/{id}/tick', {
          params: { path: { id } },
          body: { instrument_id: item.instrument_id, n: step.n, do: act, ...(override ? { override } : {}) },
        }),
      ),
    onSuccess: async (result, { item, step, act }) => {
      await refresh() // what is said to be done is seen to be
      notice.show(
        `${item.tag}: ${step.name} ${act === 'begin' && step.wait_minutes > 0 ? 'runs' : 'is done'}.`,
        result.events,
      )
    },
    onError: async (problem) => {
      notice.show(problem.message)
      await refresh()
    },
  })
  const open = (run?.items ?? []).filter((i) => i.state === 'open')
  const currents = open.flatMap((item): Current[] => {
    const step = item.steps.find((s) => s.state !== 'done')
    return step ? [{ item, step }] : []
  })
  const runs = currents.filter(({ step }) => step.begun_at)
  const todo = currents
    .filter(({ step }) => !step.begun_at && (me === null || (step.person ?? me) === me))
    .sort((a, b) => pressing(a) - pressing(b))
  const over = runs.find(({ step }) => step.over_at && Date.parse(step.over_at) <= now)
  const first = todo[0]
  useKeys({
    d: () => {
      if (!may || tick.isPending || !read) return false
      if (over) tick.mutate({ ...over, act: 'done', override: '' })
      else if (first) tick.mutate({ ...first, act: first.step.wait_minutes > 0 ? 'begin' : 'done', override: '' })
      else return false
    },
  })
  if (error && !run) return <p role="alert">{error.message}</p>
  if (!run) return <p className="quiet">Looking at the bench…</p>
  return (
    <section className="max-w-5xl">
      <div className="flex flex-wrap items-baseline gap-x-6">
        <h1>At the bench</h1>
        <p>
          {run.ended_at ? (
            <>Over since {clockTime(run.ended_at)}.</>
          ) : (
            <>
              {open.length} of {count(run.items.length, 'instrument')} to do
              {run.over_at && `, over at ${clockTime(run.over_at)}`}
              {run.finish_by && (
                <span className={Date.parse(run.finish_by) < now ? 'text-error' : ''}>
                  , bell {clockTime(run.finish_by)}
                </span>
              )}
            </>
          )}
        </p>
        {!run.ended_at && <Hand run={run} now={now} me={me} onMe={setMe} />}
      </div>
      {error && (
        <p role="alert" className="text-warning">
          No connection. Timers go on at the server; a tap is sent again when you tap again.
        </p>
      )}
      {run.ended_at ? (
        <p className="mt-4">
          <Link className="link" to="/bench/record">
            The record of what was done
          </Link>
        </p>
      ) : (
        <>
          <section aria-label="Read first" className="mt-3">
            {read ? (
              <button className="because" onClick={() => setRead(false)}>
                read the cautions again
              </button>
            ) : (
              <>
                <Cautions of={run} />
                <button
                  className="btn btn-primary h-12 w-full sm:w-auto"
                  onClick={() => {
                    sessionStorage.setItem(readKey(id), 'yes')
                    setRead(true)
                  }}
                >
                  We have read it
                </button>
              </>
            )}
          </section>
          <Timers
            list={runs}
            now={now}
            busy={tick.isPending}
            may={may}
            mayOverride={mayOverride}
            onTick={(t) => tick.mutate(t)}
          />
          {read && (
            <section aria-label="To do now" className="mt-4">
              {todo.map((current, n) => (
                <StepCard
                  key={`${current.item.instrument_id}/${String(current.step.n)}`}
                  current={current}
                  large={n === 0}
                  crowd={run.people}
                  busy={tick.isPending || !may}
                  onTick={(t) => tick.mutate(t)}
                />
              ))}
              {todo.length === 0 && <p className="quiet py-3 text-lg">{waiting(runs, now)}</p>}
            </section>
          )}
        </>
      )}
      <OnTheBench run={run} may={may} />
    </section>
  )
}

/** Why there is no step to do just now. */
function waiting(runs: Current[], now: number) {
  if (runs.length === 0) return 'Nothing is left for you.'
  if (runs.some(({ step }) => step.over_at && Date.parse(step.over_at) <= now)) return 'Go on above: a time is over.'
  return 'Nothing to do until a time is over.'
}

const readKey = (run: string) => `bench-read/${run}`

/** What must go on soon comes first, then what is planned first. */
function pressing({ item, step }: Current) {
  const before = item.steps[step.n - 1]
  const latest = before?.latest_at ? Date.parse(before.latest_at) - 30 * 60_000 : Infinity
  return Math.min(latest, step.planned_at ? Date.parse(step.planned_at) : 0)
}
