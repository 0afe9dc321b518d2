import { Link } from 'react-router'
import type { Schemas } from '../../api/client'
import { useBenchRecords } from '../../api/queries'
import { clockTime } from '../../words'
import { reasonWords } from './words'

/** What was done at the bench, the latest first, and the file for the safety officer. */
export function Record() {
  const { data: list, error } = useBenchRecords('')
  if (error && !list) return <p role="alert">{error.message}</p>
  if (!list) return <p className="quiet">Opening the book…</p>
  return (
    <section aria-label="Record">
      {list.length === 0 ? (
        <p>Nothing was finished at the bench yet.</p>
      ) : (
        <a className="link" href="/api/v1/bench/records.csv">
          A year’s record as a CSV file
        </a>
      )}
      {list.map((r) => (
        <details key={`${r.run}/${r.instrument_id}`} className="line py-1.5">
          <summary className="cursor-pointer">
            <b className="tracking-wide">{r.tag}</b> {r.kind_name}, {reasonWords[r.reason]}{' '}
            <span className="quiet">{r.finished_at && clockTime(r.finished_at, true)}</span>
            {r.steps.some((s) => s.override) && <span className="text-warning"> not waited for</span>}
            <span className="quiet block pl-4 text-sm">{used(r).join(' · ')}</span>
          </summary>
          <Steps record={r} />
          <Link className="link text-sm" to={`/instruments/${r.instrument_id}/record`}>
            All that was done to {r.tag}, to print
          </Link>
        </details>
      ))}
    </section>
  )
}

/** The products of a record with their lots, each once. */
const used = (r: Schemas['Recorded']) => [
  ...new Set(r.steps.filter((s) => s.product).map((s) => (s.lot ? `${s.product}, lot ${s.lot}` : s.product))),
]

/** The steps of a record as a table. */
export function Steps({ record }: { record: Schemas['Recorded'] }) {
  return (
    <table className="table table-sm my-2 w-full">
      <thead>
        <tr>
          <th className="pl-0">Step, with</th>
          <th className="text-right">Wet for</th>
          <th>Done</th>
          <th className="pr-0">By</th>
        </tr>
      </thead>
      <tbody>
        {record.steps.map((s) => (
          <tr key={s.n}>
            <td className="py-1 pl-0">
              {s.name}
              {s.product && (
                <span className="quiet block text-xs">
                  {s.product}
                  {s.lot && `, lot ${s.lot}`}
                </span>
              )}
              {s.override && <b className="block text-warning">not waited for: {s.override}</b>}
            </td>
            <td className="py-1 text-right">{kept(s)}</td>
            <td className="py-1">{s.done_at && clockTime(s.done_at)}</td>
            <td className="py-1 pr-0">{s.done_by}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

function kept(s: Schemas['BenchStep']) {
  if (s.wait_minutes === 0) return ''
  const least = s.contact_minutes || s.wait_minutes
  return `${String(s.kept_minutes)} of ${String(least)} min`
}
