import { Link } from 'react-router'
import type { Schemas } from '../../api/client'
import { count } from '../../words'
import { plays } from '../cards/Reports'

/** So many reports stand on Today; the others are one press away, so that a flood hides nothing else. */
const few = 3

/** What players said on their cards, who cannot play first. */
export function ReportedToday({ list }: { list: Schemas['ReportRow'][] }) {
  if (list.length === 0) return null
  return (
    <section aria-label="Reported on cards" className="mb-5">
      <div className="flex items-baseline gap-3">
        <h2>Reported by players</h2>
        <Link className="btn btn-sm ml-auto" to="/cards/reports">
          Look at {list.length === 1 ? 'it' : 'them'}
        </Link>
      </div>
      <ul>
        {list.slice(0, few).map((r) => (
          <li key={r.id} className="line flex flex-wrap items-baseline gap-x-3 py-1">
            <Link to={`/instruments/${r.instrument_id}`} className="w-14 font-bold tracking-wide">
              {r.tag}
            </Link>
            <span className="min-w-0 flex-1">
              {r.says} <span className="quiet text-sm">{r.kind_name}</span>
            </span>
            <span className={`text-sm ${r.plays === 'no' ? 'font-bold text-error' : 'quiet'}`}>{plays[r.plays]}</span>
          </li>
        ))}
      </ul>
      {list.length > few && <p className="quiet text-sm">{count(list.length - few, 'more report')}</p>}
    </section>
  )
}
