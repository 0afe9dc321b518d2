import { useState } from 'react'
import { api, take, type Schemas } from '../../api/client'
import { refresh, useMay } from '../../api/queries'
import { useWrite } from '../../api/write'
import { useNotice } from '../../shell/notice'
import { count } from '../../words'
import { Crew, type Hands } from './Crew'
import { Pouring } from './Pouring'

type Props = { run: Schemas['BenchRun']; now: number; me: number | null; onMe: (me: number | null) => void }

/** Whose phone this is, who and what is at the bench, and what is poured. A change plans what is left afresh. */
export function Hand({ run, now, me, onMe }: Props) {
  const may = useMay('finish care')
  const notice = useNotice()
  const [hands, setHands] = useState<Hands>()
  const replan = useWrite({
    send: ({ people, stations, minutes }: Hands) =>
      take(
        api.POST('/api/v1/bench/runs/{id}/plan', {
          params: { path: { id: run.id } },
          body: { people, stations, ...(minutes === null ? {} : { minutes }) },
        }),
      ),
    onSuccess: async (_, { people }) => {
      await refresh()
      if (me !== null && me >= people) onMe(null)
      setHands(undefined)
      notice.show('Planned afresh from where it stands.')
    },
    onError: (problem) => notice.show(problem.message),
  })
  const asItIs: Hands = {
    people: run.people,
    stations: Object.fromEntries(run.stations.map((s) => [s.key, s.count])),
    minutes: run.finish_by ? Math.max(1, Math.round((Date.parse(run.finish_by) - now) / 60_000)) : null,
  }
  return (
    <>
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1 md:ml-auto">
        {run.people > 1 && (
          <select
            className="select select-sm w-36"
            aria-label="I am"
            value={me ?? ''}
            onChange={(e) => onMe(e.currentTarget.value === '' ? null : Number(e.currentTarget.value))}
          >
            <option value="">everybody</option>
            {Array.from({ length: run.people }, (_, n) => (
              <option key={n} value={n}>
                person {n + 1}
              </option>
            ))}
          </select>
        )}
        {may && (
          <button
            className="because py-2"
            aria-expanded={hands !== undefined}
            onClick={() => setHands(hands ? undefined : asItIs)}
          >
            {count(run.people, 'person', 'people')} at the bench: change who and what is there
          </button>
        )}
      </div>
      {hands && (
        <section aria-label="Who and what is there" className="line basis-full space-y-3 py-3">
          <Crew hands={hands} stations={run.stations} used={run.stations} onChange={setHands} />
          <button className="btn btn-primary" disabled={replan.isPending} onClick={() => replan.mutate(hands)}>
            Plan afresh what is left
          </button>
          {run.pouring.map((p) => (
            <Pouring key={p.product_id} run={run.id} pouring={p} />
          ))}
        </section>
      )}
    </>
  )
}
