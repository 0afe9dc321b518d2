import { Link, useNavigate } from 'react-router'
import { api, take, type Schemas } from '../../api/client'
import { refresh, useMay } from '../../api/queries'
import { useWrite } from '../../api/write'
import { Mark } from '../../marks/Mark'
import { useNotice } from '../../shell/notice'
import { count, money } from '../../words'

type Suggestion = Schemas['Suggestion']

/** What a shop, or an owner, should see to and has no job yet. */
export function Suggested({ list, shops }: { list: Suggestion[]; shops: number }) {
  const may = useMay('change instruments')
  return (
    <aside aria-label="No job yet">
      <h2>{list.length === 0 ? 'Nothing waits for a job' : `${count(list.length, 'instrument')} without a job`}</h2>
      {may && shops === 0 && (
        <p className="mt-1 text-sm">
          No shop is known yet.{' '}
          <Link className="link" to="/shop/shops">
            Name one
          </Link>
          , and jobs can be given to it.
        </p>
      )}
      <ul className="mt-1">
        {list.map((s) => (
          <One key={s.instrument_id} suggestion={s} may={may} />
        ))}
      </ul>
    </aside>
  )
}

function One({ suggestion: s, may }: { suggestion: Suggestion; may: boolean }) {
  const notice = useNotice()
  const go = useNavigate()
  const want = useWrite({
    send: async (origin: Schemas['Wanting']['origin'], id) => {
      const job = id()
      const done = await take(
        api.POST('/api/v1/shop/jobs', {
          body: {
            id: job,
            instrument_id: s.instrument_id,
            origin,
            findings: s.findings,
            care: s.care,
          },
        }),
      )
      return { job, ...done }
    },
    onSuccess: async ({ job, events }) => {
      notice.show(`A job for ${s.tag}.`, events)
      await refresh()
      await go(`/shop/jobs/${job}`)
    },
    onError: (problem) => notice.show(problem.message),
  })
  const tell = useWrite({
    send: () => take(api.POST('/api/v1/instruments/{id}/tell-owner', { params: { path: { id: s.instrument_id } } })),
    onSuccess: async () => {
      notice.show(`Told to ${s.owner}, in the simulated outbox.`)
      await refresh()
    },
    onError: (problem) => notice.show(problem.message),
  })
  return (
    <li className="line grid grid-cols-[24px_1fr_auto] items-center gap-x-2.5 py-1.5">
      <Mark name={s.mark} />
      <span className="min-w-0 text-sm">
        <Link to={`/instruments/${s.instrument_id}`} className="text-base font-bold tracking-wide">
          {s.tag}
        </Link>{' '}
        <span className="quiet">{s.kind_name}</span>
        <span className="block">{s.because.join(', ')}</span>
        {s.owner && <span className="quiet block">{s.owner} owns it: no shop on the school’s money.</span>}
      </span>
      {may &&
        (s.owner ? (
          s.owner_told ? (
            <span className="quiet text-sm">told</span>
          ) : (
            <button
              className="btn btn-sm"
              disabled={tell.isPending}
              aria-label={`Tell the owner of ${s.tag}`}
              onClick={() => tell.mutate()}
            >
              Tell the owner
            </button>
          )
        ) : (
          <span className="text-right">
            {s.cents > 0 && <span className="quiet block text-sm">about {money(s.cents)}</span>}
            <button
              className="btn btn-sm"
              disabled={want.isPending}
              aria-label={`Make a job for ${s.tag}`}
              onClick={() => want.mutate(s.origin)}
            >
              Make a job
            </button>
          </span>
        ))}
    </li>
  )
}
