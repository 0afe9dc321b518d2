import { useState } from 'react'
import { Link } from 'react-router'
import type { Schemas } from '../../api/client'
import { count } from '../../words'

const few = 4

/** What of the season's accepted plan is for this week, or was missed. */
export function ThisWeek({ list }: { list: Schemas['Due'][] }) {
  const [all, setAll] = useState(false)
  if (list.length === 0) return null
  const works = new Map<string, Schemas['Due'][]>()
  for (const d of list) works.set(d.title, [...(works.get(d.title) ?? []), d])
  const shown = [...works].slice(0, all ? undefined : few)
  return (
    <section aria-label="This week" className="mb-5">
      <h2>
        This week, by the season’s plan{' '}
        <span className="quiet font-sans text-sm font-normal">
          {count(list.length, 'piece')},{' '}
          <Link to="/season" className="because">
            the score
          </Link>
        </span>
      </h2>
      <ul className="text-sm">
        {shown.map(([title, pieces]) => (
          <li key={title} className="line py-1">
            {title}:{' '}
            {pieces.map((d, n) => (
              <span key={d.instrument_id}>
                {n > 0 && ', '}
                <Link
                  to={d.job_id ? `/shop/jobs/${d.job_id}` : `/instruments/${d.instrument_id}`}
                  className={d.missed ? 'font-bold text-warning' : 'font-bold'}
                >
                  {d.tag}
                </Link>
              </span>
            ))}
          </li>
        ))}
      </ul>
      {works.size > few && (
        <button className="because text-sm" onClick={() => setAll(!all)}>
          {all ? 'fewer' : `${String(works.size - few)} more kinds of work`}
        </button>
      )}
    </section>
  )
}
