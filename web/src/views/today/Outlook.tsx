import { Link } from 'react-router'
import type { Schemas } from '../../api/client'
import { Mark } from '../../marks/Mark'
import { away, fullDay, longDay, shortDay } from '../../words'

const shownBack = 3

/** What is coming: two weeks of due work, and the concerts. */
export function Outlook({ today }: { today: Schemas['Today'] }) {
  return (
    <aside>
      <h2>Two weeks</h2>
      <Strip days={today.strip} />
      <h2 className="mt-5">Tasks</h2>
      <ul>
        {(
          [
            ['late', 'late', today.late],
            ['due', 'due', today.due],
            ['opens', 'may be done early', today.opening],
          ] as const
        ).map(([mark, word, n]) => (
          <li key={mark} className="line flex items-center gap-2 py-1">
            <Mark name={mark} /> {word} <b className="ml-auto">{n}</b>
          </li>
        ))}
      </ul>
      {today.shop.length > 0 && (
        <>
          <h2 className="mt-5">Shop</h2>
          <ul>
            {today.shop.slice(0, shownBack).map((j) => (
              <li key={j.id} className="line py-1">
                <Link to={`/shop/jobs/${j.id}`} className="flex items-baseline gap-2">
                  <b className="tracking-wide">{j.tag}</b>
                  <span className={`min-w-0 flex-1 text-sm ${j.alert ? 'text-error' : 'quiet'}`}>
                    {j.says || j.state_words}
                  </span>
                </Link>
              </li>
            ))}
          </ul>
          {today.shop.length > shownBack && (
            <Link to="/shop" className="link text-sm">
              {today.shop.length - shownBack} more
            </Link>
          )}
        </>
      )}
      {today.due_back.length > 0 && (
        <>
          <h2 className="mt-5">Due back</h2>
          <ul>
            {today.due_back.slice(0, shownBack).map((b) => (
              <li key={b.instrument_id + b.owner} className="line flex items-baseline gap-2 py-1">
                <Link to={`/instruments/${b.instrument_id}`} className="font-bold tracking-wide">
                  {b.tag}
                </Link>
                <span className="quiet min-w-0 flex-1 text-sm">{b.owner ? `to ${b.owner}` : `from ${b.from}`}</span>
                <span className="text-sm whitespace-nowrap">{fullDay(b.on)}</span>
              </li>
            ))}
          </ul>
          {today.due_back.length > shownBack && (
            <Link to="/hand-out/notices" className="link text-sm">
              {today.due_back.length - shownBack} more
            </Link>
          )}
        </>
      )}
      <h2 className="mt-5">Concerts</h2>
      {today.concerts.length === 0 && <p className="quiet py-1">None is entered.</p>}
      <ul>
        {today.concerts.map((c) => (
          <li key={c.on + c.name} className="line flex items-baseline gap-2 py-1.5">
            <span>
              <Link to="/season/readiness">{c.name}</Link>{' '}
              <span className="quiet block text-sm">
                {fullDay(c.on)}
                {c.chairs > 0 && `, ${String(c.ready)} of ${String(c.chairs)} ready`}
              </span>
            </span>
            <b className="ml-auto whitespace-nowrap">{away(c.days)}</b>
          </li>
        ))}
      </ul>
    </aside>
  )
}

const headsAtMost = 6

/** A stack of heads for each day; a break day without work has a rest. */
function Strip({ days }: { days: Schemas['StripDay'][] }) {
  const most = Math.max(1, ...days.slice(1).map((d) => d.due))
  const perHead = Math.max(1, Math.ceil(most / headsAtMost))
  return (
    <>
      <ol className="mt-2 flex items-end">
        {days.map((d, n) => {
          const [weekday, date] = shortDay(d.date).split(' ')
          const heads = Math.min(headsAtMost, Math.ceil(d.due / perHead))
          return (
            <li
              key={d.date}
              className={`flex flex-1 flex-col items-center ${d.concert ? 'border-r-3 border-double border-base-content' : ''}`}
              title={`${longDay(d.date)}: ${String(d.due)} due${d.break ? ', no school' : ''}${d.concert ? `, ${d.concert}` : ''}`}
            >
              <span className="text-[11px]">{d.due > 0 ? d.due : ''}</span>
              <svg viewBox={`0 0 16 ${String(headsAtMost * 9 + 8)}`} className="w-4 fill-current" aria-hidden>
                {heads === 0 && d.break && (
                  <path
                    d="M6 44l4 5-3 3.6 3.8 4.6c-3-1-5 .6-3.2 3.8"
                    fill="none"
                    stroke="currentColor"
                    strokeWidth="1.8"
                    strokeLinecap="round"
                  />
                )}
                {Array.from({ length: heads }, (_, k) => (
                  <ellipse
                    key={k}
                    cx="8"
                    cy={headsAtMost * 9 - k * 9}
                    rx="4.8"
                    ry="3.5"
                    transform={`rotate(-20 8 ${String(headsAtMost * 9 - k * 9)})`}
                  />
                ))}
              </svg>
              <span className={`text-[11px] leading-tight ${n === 0 ? 'font-bold' : 'quiet'}`}>
                {weekday?.slice(0, 2)}
              </span>
              <span className={`text-[11px] leading-tight ${n === 0 ? 'font-bold' : 'quiet'}`}>{date}</span>
            </li>
          )
        })}
      </ol>
      {perHead > 1 && <p className="quiet mt-1 text-xs">A head stands for up to {perHead} tasks.</p>}
    </>
  )
}
