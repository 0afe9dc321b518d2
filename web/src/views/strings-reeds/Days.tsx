// The days to a concert from left to right, and what stands on them.
import type { Schemas } from '../../api/client'
import { weekdayOf } from '../../words'

/** Where a day stands, in percent of the width. */
export function placing(days: Schemas['CalendarDay'][]) {
  const place = new Map(days.map((d, n) => [d.date, n]))
  return (day: string) =>
    (((place.get(day) ?? (day < (days[0]?.date ?? '') ? 0 : days.length - 1)) + 0.5) / days.length) * 100
}

type NamesProps = {
  days: Schemas['CalendarDay'][]
  at: (day: string) => number
  closed: string[]
  onClose: (day: string) => void
}

/** Weekday and date over each school day. One on which nobody has time is struck out. */
export function DayNames({ days, at, closed, onClose }: NamesProps) {
  const every = Math.ceil(days.length / 20)
  return (
    <div className="grid grid-cols-[112px_1fr] sm:grid-cols-[150px_1fr]">
      <span />
      <div className="quiet relative h-9 text-xs">
        {days.map(
          (d, n) =>
            !d.rest &&
            n % every === 0 && (
              <button
                key={d.date}
                className={`absolute -translate-x-1/2 cursor-pointer text-center leading-4 ${closed.includes(d.date) ? 'text-error line-through' : ''}`}
                style={{ left: `${String(at(d.date))}%` }}
                aria-label={`${weekdayOf(d.date).slice(0, 2)} ${String(Number(d.date.slice(8)))}: no time for strings`}
                aria-pressed={closed.includes(d.date)}
                onClick={() => onClose(d.date)}
              >
                {weekdayOf(d.date).slice(0, 2)}
                <br />
                {Number(d.date.slice(8))}
              </button>
            ),
        )}
      </div>
    </div>
  )
}

/** Days without school in a tint, and the double bar of the concert. */
export function Backdrop({ days }: { days: Schemas['CalendarDay'][] }) {
  const width = 100 / days.length
  return (
    <>
      {days.map(
        (d, n) =>
          d.rest && (
            <span
              key={d.date}
              className="absolute inset-y-0 bg-base-200"
              style={{ left: `${String(n * width)}%`, width: `${String(width)}%` }}
            />
          ),
      )}
      <span className="absolute inset-y-0 right-0 w-[7px] border-r-4 border-l border-base-content" />
    </>
  )
}
