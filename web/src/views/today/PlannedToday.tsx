import { Link } from 'react-router'
import type { Schemas } from '../../api/client'
import { count, nearDay } from '../../words'

/** What was put on the plan for today, or should have been done before: each leads into its guided change. */
export function PlannedToday({ list, today }: { list: Schemas['Planned'][]; today: string | undefined }) {
  if (list.length === 0) return null
  const minutes = list.reduce((sum, p) => sum + p.minutes, 0)
  return (
    <section aria-label="On the plan" className="mb-5">
      <h2>
        On the plan for today <span className="quiet font-sans text-sm font-normal">{count(minutes, 'minute')}</span>
      </h2>
      <ul>
        {list.map((p) => (
          <li key={p.instrument_id + p.part} className="line flex flex-wrap items-baseline gap-x-3 py-1">
            <Link to={`/instruments/${p.instrument_id}`} className="w-14 font-bold">
              {p.tag}
            </Link>
            <span>
              {p.part_name} <span className="quiet text-sm">{p.kind_name}</span>
              {today && p.on < today && <span className="text-sm text-warning"> since {nearDay(p.on)}</span>}
            </span>
            <Link
              to={`/instruments/${p.instrument_id}/renewal/${p.part}`}
              className="btn btn-sm ml-auto"
              aria-label={`Change it: ${p.tag}, ${p.part_name}`}
            >
              Change it
            </Link>
          </li>
        ))}
      </ul>
    </section>
  )
}
