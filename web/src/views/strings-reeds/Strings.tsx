import { Link } from 'react-router'
import type { Schemas } from '../../api/client'
import { useBows, useStrings } from '../../api/queries'
import { count, nearDay } from '../../words'

type On = Schemas['On']

/** Every string of every instrument as a line that thins out as it wears, with its day; bows and rosin beside them. */
export function Strings() {
  const { data, error } = useStrings()
  const { data: bows } = useBows()
  if (error && !data) return <p role="alert">{error.message}</p>
  if (!data) return <p className="quiet">Tuning…</p>
  if (data.length === 0) return <p>There is no instrument with strings yet.</p>
  const sections = [...new Set(data.map((i) => i.section))]
  return (
    <>
      <p className="quiet text-sm">
        The line is what is left of a string’s time; a wave still settles. Press one to be led through its change.
      </p>
      {sections.map((section) => (
        <section key={section} aria-label={section} className="mt-4">
          <h2>{section}</h2>
          <ul>
            {data
              .filter((i) => i.section === section)
              .map((i) => (
                <li
                  key={i.instrument_id}
                  className="line grid grid-cols-[64px_1fr] items-center gap-x-4 gap-y-1 py-2 md:grid-cols-[64px_112px_minmax(0,1fr)_230px]"
                >
                  <Link to={`/instruments/${i.instrument_id}`} className="font-bold">
                    {i.tag}
                  </Link>
                  <span className="quiet text-sm">
                    {i.kind_name}
                    {i.spare_set === 'missing' && <span className="block text-warning">no spare set</span>}
                  </span>
                  <span className="col-span-2 grid grid-cols-2 gap-x-4 gap-y-0.5 sm:grid-cols-4 md:col-span-1">
                    {i.strings.map((s, n) => (
                      <OneString key={s.part} instrument={i.instrument_id} tag={i.tag} on={s} weight={n} />
                    ))}
                  </span>
                  <BowLine bow={bows?.bows.find((b) => b.instrument_id === i.instrument_id)} />
                </li>
              ))}
          </ul>
        </section>
      ))}
    </>
  )
}

const tone: Record<On['state'], string> = { fresh: '', opening: '', due: 'text-warning', late: 'text-error' }

function OneString({ instrument, tag, on, weight }: { instrument: string; tag: string; on: On; weight: number }) {
  const left = Math.max(0, 1 - on.wear)
  const day = on.due_on ? nearDay(on.due_on) : ''
  const words = on.settles
    ? `settles until ${nearDay(on.settles)}`
    : on.planned
      ? `planned for ${nearDay(on.planned)}`
      : on.state === 'late'
        ? `late since ${day}`
        : on.state === 'due'
          ? `due since ${day}`
          : `until ${day}`
  return (
    <Link
      to={`/instruments/${instrument}/renewal/${on.part}`}
      className={`block min-h-11 py-1 text-sm md:min-h-0 ${tone[on.state]}`}
      aria-label={`${tag}, ${on.short} ${words}: change it`}
      title={[
        on.product,
        on.tension,
        on.end_kind && `${on.end_kind} end`,
        count(on.days, 'day'),
        `${String(Math.round(on.hours))} h played`,
      ]
        .filter(Boolean)
        .join(', ')}
    >
      <svg viewBox="0 0 100 8" className="block h-2 w-full" preserveAspectRatio="none" aria-hidden>
        <path d="M0 4H100" className="stroke-base-300" strokeWidth="1" vectorEffect="non-scaling-stroke" />
        <path
          d={on.settles ? wave(100) : `M0 4H${String(100 * left)}`}
          fill="none"
          stroke="currentColor"
          strokeWidth={1.2 + weight * 0.7}
          vectorEffect="non-scaling-stroke"
        />
      </svg>
      <span>
        {on.short} <span className={on.state === 'fresh' ? 'quiet' : ''}>{words}</span>
      </span>
    </Link>
  )
}

/** A string that still sags, as a wave. */
export function wave(width: number, step = 8) {
  let d = 'M0 4'
  for (let x = 0; x < width; x += step) d += ` q${String(step / 4)} -3 ${String(step / 2)} 0 t${String(step / 2)} 0`
  return d
}

function BowLine({ bow }: { bow: Schemas['Bow'] | undefined }) {
  if (!bow) return <span />
  const hair = bow.state === 'late' || bow.state === 'due'
  return (
    <span className="col-span-2 text-sm md:col-span-1">
      <span className={hair ? tone[bow.state] : 'quiet'}>
        {hair
          ? bow.advice === undefined
            ? 'hair due'
            : bow.advice.choice === 'new'
              ? 'new bow'
              : 'rehair'
          : `hair until ${bow.due_on ? nearDay(bow.due_on) : 'later'}`}
      </span>
      {bow.holder && <span className="quiet"> · rosin {often(bow.rosin.times_per_week)}</span>}
    </span>
  )
}

export const often = (times: number) =>
  times === 0 ? 'not needed' : times === 1 ? 'weekly' : times === 7 ? 'daily' : `${String(times)}× a week`
