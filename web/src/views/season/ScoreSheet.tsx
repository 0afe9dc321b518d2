import { useEffect, useRef, useState, type PointerEvent } from 'react'
import { nearDay } from '../../words'
import { tagsOf, type Note, type Score } from './notes'
import type { Move } from './pins'

type Props = {
  score: Score
  notes: Note[]
  chosen: string | undefined
  trying: Move | undefined
  onChoose: (key: string) => void
  onMove: ((note: Note, week: number) => void) | undefined
}

// Lengths in units of the drawing, which is as wide as the page.
const left = 118
const width = 1120
const top = 40
const gap = 5 // between two lines of a staff
const staffHeight = 3 * gap
const apart = 34 // from staff to staff

/** The year as a full score: sections as staves, weeks as bars, concerts as double bar-lines, breaks as rests, work as notes. */
export function ScoreSheet({ score, notes, chosen, trying, onChoose, onMove }: Props) {
  const svg = useRef<SVGSVGElement>(null)
  const [held, setHeld] = useState<{ note: Note; from: number; week: number }>()
  const bar = (width - left) / score.weeks.length
  const x = (week: number) => left + week * bar
  const y = (staff: number) => top + staff * apart
  const end = y(score.staves.length - 1) + staffHeight
  const foot = end + 16
  const laid = placed(notes)
  // A note that is held stands where it would be let go, and stays there until the planner has answered.
  const standsIn = (note: Note) => (trying?.key === note.key ? trying.week : note.week)
  const weekOf = (note: Note) => (held?.note.key === note.key ? held.week : standsIn(note))
  const spotOf = (note: Note, column: number, step: number) => ({
    cx: x(weekOf(note)) + bar * (column === 0 ? 0.3 : 0.72),
    cy: y(note.staff) + (note.place === 'bench' ? -1.5 - step * 5.4 : staffHeight - 1 + step * 5.4),
  })
  // A held note goes as many bars as the pointer has gone since it was taken up.
  const weekAt = (e: PointerEvent, taken: { note: Note; from: number }) => {
    const box = svg.current?.getBoundingClientRect()
    const bars = box ? Math.round((((e.clientX - taken.from) / box.width) * width) / bar) : 0
    return Math.max(0, Math.min(score.weeks.length - 1, standsIn(taken.note) + bars))
  }
  // Whoever moves a note by the keys keeps it in hand: it may have become part of another one.
  const [follow, setFollow] = useState<string>()
  useEffect(() => {
    const note = notes.find((n) => n.pieces.some((p) => p.id === follow))
    if (note) svg.current?.querySelector<SVGGElement>(`[data-note="${CSS.escape(note.key)}"]`)?.focus()
  }, [notes, follow])
  const put = (note: Note, week: number) => {
    if (week === standsIn(note) || week < 0 || week >= score.weeks.length) return
    setFollow(note.pieces[0]?.id)
    onMove?.(note, week)
  }
  return (
    <div className="mt-2 overflow-x-auto">
      <svg
        ref={svg}
        viewBox={`0 0 ${String(width)} ${String(foot + 62)}`}
        className="w-full min-w-[900px] print:min-w-0 touch-pan-x select-none"
        role="group"
        aria-label={`The score of ${String(score.weeks.length)} weeks; the list shows the same by week`}
        onPointerMove={(e) => held && setHeld({ ...held, week: weekAt(e, held) })}
        onPointerUp={(e) => {
          // Not held.week: the last move need not have been drawn yet.
          if (held) put(held.note, weekAt(e, held))
          setHeld(undefined)
        }}
        onPointerLeave={() => setHeld(undefined)}
      >
        <Bars score={score} x={x} bar={bar} end={end} />
        {score.staves.map((s, n) => (
          <g key={s.section}>
            {[0, 1, 2, 3].map((line) => (
              <path
                key={line}
                d={`M${String(left)} ${String(y(n) + line * gap)}H${String(width)}`}
                className="stroke-base-300"
                strokeWidth="0.8"
              />
            ))}
            <text
              x={left - 14}
              y={y(n) + staffHeight / 2 + 4}
              textAnchor="end"
              fontSize="11.5"
              className="fill-base-content"
            >
              {s.section}
            </text>
          </g>
        ))}
        <Brackets score={score} y={y} />
        {held && (
          <g className="fill-primary">
            <rect
              x={x(held.note.first)}
              y={top - 8}
              width={bar * (held.note.last - held.note.first + 1)}
              height={end - top + 16}
              opacity="0.05"
            />
            <rect x={x(held.week)} y={top - 8} width={bar} height={end - top + 16} opacity="0.12" />
          </g>
        )}
        {laid.map(({ note, column, step }) => {
          const { cx, cy } = spotOf(note, column, step)
          const weeks = score.weeks[note.week]
          return (
            <g
              key={note.key}
              role="button"
              tabIndex={0}
              data-note={note.key}
              aria-pressed={chosen === note.key}
              aria-label={`${tagsOf(note)}: ${note.title}, ${note.place === 'bench' ? 'at the bench' : 'by van to the shop'}, week of ${nearDay(weeks?.monday ?? '')}${note.pinned ? ', pinned' : ''}`}
              className={`cursor-pointer ${note.when === 'late' ? 'text-warning' : 'text-base-content'}`}
              onClick={() => onChoose(note.key)}
              onPointerDown={(e) =>
                onMove && e.button === 0 && setHeld({ note, from: e.clientX, week: standsIn(note) })
              }
              onKeyDown={(e) => {
                if (e.key === 'Enter' || e.key === ' ') onChoose(note.key)
                else if (e.key === 'ArrowLeft') put(note, standsIn(note) - 1)
                else if (e.key === 'ArrowRight') put(note, standsIn(note) + 1)
                else return
                e.preventDefault()
              }}
            >
              <rect x={cx - 7} y={cy - 7} width="14" height="14" fill="transparent" />
              {note.back > note.week && (
                <path
                  d={`M${String(cx + 4)} ${String(cy + 3)}Q${String((cx + x(note.back + 1)) / 2)} ${String(cy + 11)} ${String(x(note.back + 1) - 2)} ${String(cy + 3)}`}
                  fill="none"
                  stroke="currentColor"
                  strokeWidth="0.9"
                  opacity="0.45"
                />
              )}
              <Head cx={cx} cy={cy} hollow={note.when === 'early'} chosen={chosen === note.key} />
              {note.when === 'late' && (
                <path
                  d={`M${String(cx - 4.5)} ${String(cy - 10.5)}l9 2.2l-9 2.2`}
                  fill="none"
                  stroke="currentColor"
                  strokeWidth="1.3"
                />
              )}
              {note.pinned && (
                <path d={`M${String(cx)} ${String(cy + 4)}v6`} className="stroke-primary" strokeWidth="2" />
              )}
            </g>
          )
        })}
        <g aria-hidden className="pointer-events-none fill-secondary">
          {laid
            .filter(({ note }) => note.pieces.length > 1)
            .map(({ note, column, step }) => {
              const { cx, cy } = spotOf(note, column, step)
              return (
                <text key={note.key} x={cx + 4.4} y={cy - 2.2} fontSize="7.5">
                  {note.pieces.length}
                </text>
              )
            })}
        </g>
        <Foot score={score} x={x} bar={bar} y={foot} />
      </svg>
    </div>
  )
}

function Head({ cx, cy, hollow, chosen }: { cx: number; cy: number; hollow: boolean; chosen: boolean }) {
  return (
    <ellipse
      cx={cx}
      cy={cy}
      rx={hollow ? 4 : 4.6}
      ry={hollow ? 2.6 : 3.3}
      transform={`rotate(-20 ${String(cx)} ${String(cy)})`}
      fill={hollow ? 'none' : 'currentColor'}
      stroke={chosen ? 'var(--color-primary)' : 'currentColor'}
      strokeWidth={chosen ? 2.4 : hollow ? 1.5 : 0.6}
    />
  )
}

/** Puts the notes of a week and a place of a staff side by side and above each other, two to a step. */
function placed(notes: Note[]) {
  const seen = new Map<string, number>()
  return notes.map((note) => {
    const spot = [note.staff, note.week, note.place].join('|')
    const n = seen.get(spot) ?? 0
    seen.set(spot, n + 1)
    return { note, column: n % 2, step: Math.floor(n / 2) }
  })
}

/** Bars, breaks with their rests, concerts with their double bar-lines, and where today stands. */
function Bars({ score, x, bar, end }: { score: Score; x: (week: number) => number; bar: number; end: number }) {
  return (
    <>
      {score.weeks.map((w, n) => (
        <g key={w.monday}>
          {w.break && (
            <>
              <rect x={x(n)} y={top - 10} width={bar} height={end - top + 20} className="fill-base-200" />
              {score.staves.map((s, k) => (
                <path
                  key={s.section}
                  d={`M${String(x(n) + bar / 2 - 2)} ${String(top + k * apart + 1)}l4 4-3 4 4 5c-3-1-5 1-3 4`}
                  fill="none"
                  className="stroke-secondary"
                  opacity="0.45"
                  strokeWidth="1.5"
                />
              ))}
            </>
          )}
          <path
            d={`M${String(x(n))} ${String(top)}V${String(end)}`}
            className="stroke-base-300"
            strokeWidth={n === 0 ? 0 : 0.8}
          />
          <text x={x(n) + bar / 2} y="12" textAnchor="middle" fontSize="9.5" className="fill-secondary">
            {w.name || nearDay(w.monday).split(' ')[1]}
          </text>
          {w.concerts.length > 0 && (
            <g className="stroke-base-content">
              <path d={`M${String(x(n + 1) - 5)} ${String(top)}V${String(end)}`} strokeWidth="1.2" />
              <path d={`M${String(x(n + 1) - 1.5)} ${String(top)}V${String(end)}`} strokeWidth="3" />
              <text
                x={Math.min(width - 2, x(n + 1) + 26)}
                y="27"
                textAnchor="end"
                fontSize="10.5"
                fontWeight="700"
                stroke="none"
                className="fill-base-content"
              >
                {w.concerts[0]}
              </text>
            </g>
          )}
        </g>
      ))}
      <path
        d={`M${String(x(0))} ${String(top - 12)}V${String(end + 8)}`}
        className="stroke-primary"
        strokeWidth="2.4"
      />
    </>
  )
}

/** One bracket a family. */
function Brackets({ score, y }: { score: Score; y: (staff: number) => number }) {
  const groups: { family: string; from: number; to: number }[] = []
  for (const [n, s] of score.staves.entries()) {
    const last = groups.at(-1)
    if (last?.family === s.family) last.to = n
    else groups.push({ family: s.family, from: n, to: n })
  }
  return (
    <g className="fill-none stroke-base-content">
      {groups.map((g) => {
        const [a, b] = [y(g.from) - 3, y(g.to) + staffHeight + 3]
        return (
          <path
            key={g.family + String(g.from)}
            d={`M${String(left - 1)} ${String(a - 4)}q-4 1-6 5V${String(b - 1)}q2 4 6 5`}
            strokeWidth="2.6"
          />
        )
      })}
    </g>
  )
}

/** Under the score: what each week's bench holds and takes, the trips, and the money. */
function Foot({ score, x, bar, y }: { score: Score; x: (week: number) => number; bar: number; y: number }) {
  const most = Math.max(1, ...score.weeks.map((w) => w.minutes))
  const dear = Math.max(1, ...score.weeks.map((w) => w.cents))
  const label = (text: string, at: number) => (
    <text x={left - 14} y={at} textAnchor="end" fontSize="10" className="fill-secondary">
      {text}
    </text>
  )
  return (
    <g>
      {label('bench minutes', y + 14)}
      {label('van, money', y + 44)}
      {score.weeks.map((w, n) => {
        const full = (w.minutes / most) * 20
        const used = (w.used_minutes / most) * 20
        const cents = (w.cents / dear) * 16
        return (
          <g key={w.monday}>
            <title>
              {`Week of ${nearDay(w.monday)}: ${String(Math.round(w.used_minutes))} of ${String(w.minutes)} minutes at the bench${w.trip ? `, ${String(w.used_places)} of ${String(w.places)} places in the van` : ''}`}
            </title>
            <rect
              x={x(n) + 3}
              y={y + 20 - full}
              width={bar - 6}
              height={full}
              className="fill-none stroke-base-300"
              strokeWidth="0.8"
            />
            <rect
              x={x(n) + 3}
              y={y + 20 - used}
              width={bar - 6}
              height={used}
              className={w.used_minutes > w.minutes * 0.97 ? 'fill-warning' : 'fill-primary'}
              opacity="0.75"
            />
            <rect
              x={x(n) + 3}
              y={y + 46 - cents}
              width={bar - 6}
              height={cents}
              className="fill-accent"
              opacity="0.7"
            />
            {w.trip && (
              <text x={x(n) + bar / 2} y={y + 56} textAnchor="middle" fontSize="8" className="fill-secondary">
                {w.used_places}/{w.places}
              </text>
            )}
          </g>
        )
      })}
    </g>
  )
}
