import { Link } from 'react-router'
import type { Schemas } from '../../api/client'
import { useSizeOrder } from '../../api/queries'
import { fullDay } from '../../words'
import { ToRent } from './ToRent'

/** Who will outgrow what over the next summer, and so which sizes to order. */
export function SizeOrder() {
  const { data, error } = useSizeOrder()
  if (error && !data) return <p role="alert">{error.message}</p>
  if (!data) return <p className="quiet">Measuring arms…</p>
  return (
    <div className="grid gap-8 lg:grid-cols-[1fr_320px]">
      <section aria-label="Who outgrows what">
        <p className="quiet">
          Until {fullDay(data.until)}, from each player’s own measurements, and what can go to them: what stands free,
          and what others give back, a week for its turnover after that. The chart is from memory; the checks with the
          instrument in hand stand above it.
        </p>
        {data.who.length === 0 && <p className="mt-2">Nobody who was measured twice.</p>}
        <ul className="mt-2">
          {data.who.map((w) => (
            <li
              key={w.player_id}
              className="line grid grid-cols-[1fr_auto] gap-x-3 py-1 sm:grid-cols-[170px_110px_90px_1fr_auto]"
            >
              <b>{w.player}</b>
              <span>
                {w.kind_name} <b className="tracking-wide">{w.tag}</b>
              </span>
              <span>
                {w.holds || w.fits} → <b>{w.next}</b>
              </span>
              <Gets gets={w.gets} />
              <span
                className={`col-start-2 row-span-2 row-start-1 text-right sm:col-auto sm:row-auto ${w.on ? 'quiet' : 'text-warning'}`}
              >
                {w.on ? fullDay(w.on) : 'now'}
                {w.until && (
                  <span className="block text-xs">
                    {w.from ? fullDay(w.from) : 'any day'} to {fullDay(w.until)}
                  </span>
                )}
              </span>
            </li>
          ))}
        </ul>
      </section>
      <aside>
        <ToRent
          title="To rent or buy"
          order={data.order}
          none="Nothing; what is needed stands free or comes back in time."
        />
      </aside>
    </div>
  )
}

/** What can go to a player who needs the next size. */
function Gets({ gets }: { gets?: Schemas['Getting'] }) {
  if (!gets) return <span className="col-span-2 sm:col-span-1">nothing is there for it</span>
  const notes = [
    gets.back_from ? `back from ${gets.back_from}` : gets.ready_on ? 'held' : 'free',
    gets.ready_on && `ready about ${fullDay(gets.ready_on)}`,
    gets.rented_until && `rented until ${fullDay(gets.rented_until)}`,
  ]
  return (
    <span className="col-span-2 sm:col-span-1">
      gets{' '}
      <Link to={`/instruments/${gets.instrument_id}`} className="font-bold tracking-wide">
        {gets.tag}
      </Link>
      <span className="quiet block text-xs">{notes.filter(Boolean).join(', ')}</span>
    </span>
  )
}
