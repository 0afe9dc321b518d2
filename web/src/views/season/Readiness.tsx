import { Link } from 'react-router'
import type { Schemas } from '../../api/client'
import { useHeader, useReadiness } from '../../api/queries'
import { away, longDay, nearDay } from '../../words'

/** Who will be ready for which concert, and the quickest way for those who are not. */
export function Readiness() {
  const { data, error } = useReadiness()
  const { data: header } = useHeader()
  if (error && !data) return <p role="alert">{error.message}</p>
  if (!data) return <p className="quiet">Counting the chairs…</p>
  if (data.length === 0) return <p>No concert is entered.</p>
  return (
    <div className="grid max-w-5xl gap-8">
      <p className="no-print -mb-5 text-sm">
        <a className="link" href="/api/v1/season/readiness.pdf" target="_blank" rel="noreferrer">
          The same as a sheet
        </a>
      </p>
      {data.map((c) => (
        <Concert key={c.on + c.concert} concert={c} today={header?.today} />
      ))}
    </div>
  )
}

function Concert({ concert: c, today }: { concert: Schemas['Readiness']; today: string | undefined }) {
  return (
    <section aria-label={c.concert}>
      <div className="flex flex-wrap items-baseline gap-x-3">
        <h2>{c.concert}</h2>
        <span className="quiet">
          {longDay(c.on)}, {away(c.days)}
        </span>
        <b className="ml-auto">
          {c.ready} of {c.chairs} chairs ready
        </b>
      </div>
      <p className="flex flex-wrap gap-x-4 text-sm">
        {c.ensembles.map((e) => (
          <span key={e.name} className="whitespace-nowrap">
            {e.name}{' '}
            <b className={e.ready < e.chairs ? 'text-warning' : ''}>
              {e.ready}/{e.chairs}
            </b>
          </span>
        ))}
      </p>
      <ul className="mt-1">
        {c.not_ready.map((n, k) => (
          <li
            key={k}
            className="line grid grid-cols-[84px_1fr] items-baseline gap-x-3 py-1 text-sm sm:grid-cols-[110px_150px_1fr_1fr_140px]"
          >
            <b>{n.instrument_id ? <Link to={`/instruments/${n.instrument_id}`}>{n.tag}</Link> : n.tag}</b>
            <span>{n.player}</span>
            <span className="col-start-2 sm:col-start-auto">{n.because}</span>
            <span className="col-start-2 sm:col-start-auto">
              {n.job_id ? (
                <Link className="link" to={`/shop/jobs/${n.job_id}`}>
                  {n.way}
                </Link>
              ) : n.loaner_id ? (
                <Link className="link" to={`/instruments/${n.loaner_id}`}>
                  {n.way}
                </Link>
              ) : (
                n.way
              )}
            </span>
            <span className={`col-start-2 sm:col-start-auto ${n.in_time ? 'quiet' : 'text-error'}`}>
              {n.by
                ? n.by === today
                  ? 'today'
                  : `by ${nearDay(n.by)}${n.in_time ? '' : ', too late'}`
                : 'nobody knows when'}
            </span>
          </li>
        ))}
      </ul>
      {c.not_ready.length === 0 && <p className="quiet mt-1">Everybody is ready.</p>}
    </section>
  )
}
