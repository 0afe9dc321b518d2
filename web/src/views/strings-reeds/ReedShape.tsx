import type { Schemas } from '../../api/client'
import { nearDay } from '../../words'

type Reed = Schemas['BoxReed']

/** How a reed stands, in words. */
export function reedWords(r: Reed) {
  if (r.state === 'worn') return 'tired: into the bin'
  if (r.state === 'breaking-in')
    return r.minutes > 0
      ? `day ${String(r.day)} of its break-in: ${String(r.minutes)} minutes today`
      : `broken in until ${nearDay(r.ready_on)}, rests today`
  return `ready${r.today ? ', today’s' : ''}${r.tired_on ? `, until ${nearDay(r.tired_on)}` : ''}`
}

/** A reed as it stands in its holder: filled from the butt as it is broken in, black when it is ready, struck through when worn. */
export function ReedShape({ reed }: { reed: Reed }) {
  const worn = reed.state === 'worn'
  const share = worn ? 1 : reed.share
  const height = 33 * share
  return (
    <svg
      viewBox="0 0 14 40"
      className="h-10 w-3.5"
      role="img"
      aria-label={`Reed ${String(reed.place)}: ${reedWords(reed)}`}
    >
      <clipPath id={`reed-${reed.id}`}>
        <path d={outline} />
      </clipPath>
      <rect
        x="0"
        y={38 - height}
        width="14"
        height={height}
        clipPath={`url(#reed-${reed.id})`}
        className={worn ? 'fill-error' : share < 1 ? 'fill-primary' : 'fill-base-content'}
      />
      <path
        d={outline}
        fill="none"
        strokeWidth="1.4"
        className={worn ? 'stroke-error' : share < 1 ? 'stroke-primary' : 'stroke-base-content'}
      />
      {worn && <path d="M3 33 L11 11" strokeWidth="2" className="stroke-base-100" />}
      {reed.today && !worn && <circle cx="7" cy="12" r="2.2" className="fill-base-100" />}
    </svg>
  )
}

/** A place of the holder in which nothing lies. */
export function NoReed() {
  return (
    <svg viewBox="0 0 14 40" className="h-10 w-3.5" aria-hidden>
      <path d={outline} fill="none" strokeWidth="1.2" strokeDasharray="2 2" className="stroke-base-300" />
    </svg>
  )
}

/** A pale tip, round at the top, and a straight butt. */
const outline = 'M2 38 V13 C2 7 4.5 5 7 5 C9.5 5 12 7 12 13 V38 Z'
