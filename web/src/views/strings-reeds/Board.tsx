import { useRef, useState } from 'react'
import { Link } from 'react-router'
import type { Schemas } from '../../api/client'
import { longDay } from '../../words'
import { Backdrop, placing } from './Days'

type Change = Schemas['StringChange']
type Pinned = Schemas['PlannedChange'][]
type Props = { days: Schemas['CalendarDay'][]; changes: Change[]; pinned: Pinned; onPin: (pinned: Pinned) => void }

/** The plan of a section, instrument by instrument. A string is dragged to another day, or moved with the arrow keys; then the whole
 * instrument keeps its days. */
export function Board({ days, changes, pinned, onPin }: Props) {
  const tags = [...new Set(changes.map((c) => c.tag))].sort()
  const move = (change: Change, to: string) => {
    if (to === change.on) return
    const same = changes
      .filter((c) => c.instrument_id === change.instrument_id)
      .map(({ instrument_id, part, on }) => ({ instrument_id, part, on: part === change.part ? to : on }))
    onPin([...pinned.filter((p) => p.instrument_id !== change.instrument_id), ...same])
  }
  return (
    <div role="group" aria-label="Plan, instrument by instrument" className="bg-base-200/50">
      {tags.map((tag) => (
        <Line key={tag} days={days} changes={changes.filter((c) => c.tag === tag)} onMove={move} />
      ))}
      <p className="quiet py-1 pl-3 text-sm">Drag a string to another day, or move it with the arrow keys.</p>
    </div>
  )
}

function Line({
  days,
  changes,
  onMove,
}: {
  days: Props['days']
  changes: Change[]
  onMove: (change: Change, to: string) => void
}) {
  const track = useRef<HTMLDivElement>(null)
  const [dragged, setDragged] = useState<{ part: string; day: string }>()
  const at = placing(days)
  const open = days.filter((d) => !d.rest)
  const dayUnder = (x: number) => {
    const box = track.current?.getBoundingClientRect()
    if (!box) return undefined
    const n = Math.floor(((x - box.left) / box.width) * days.length)
    return days[Math.max(0, Math.min(days.length - 1, n))]?.date
  }
  const next = (from: string, by: number) => {
    const n = open.findIndex((d) => d.date === from)
    return open[n + by]?.date ?? from
  }
  const first = changes[0]
  if (!first) return null
  return (
    <div className="grid grid-cols-[112px_1fr] sm:grid-cols-[150px_1fr] border-t border-base-300">
      <Link to={`/instruments/${first.instrument_id}`} className="py-1.5 pl-3 text-sm font-bold">
        {first.tag}
        {changes.every((c) => c.accepted) && <span className="quiet font-normal"> on the plan</span>}
        {changes.some((c) => c.pinned) && <span className="quiet font-normal"> moved</span>}
      </Link>
      <div ref={track} className="relative h-9">
        <Backdrop days={days} />
        {changes.map((c) => {
          const day = dragged?.part === c.part ? dragged.day : c.on
          return (
            <button
              key={c.part}
              className={`absolute top-1/2 z-10 min-w-7 -translate-x-1/2 -translate-y-1/2 cursor-grab touch-none rounded border px-1 py-0.5 text-xs font-bold ${
                c.pinned ? 'border-primary bg-primary text-primary-content' : 'border-base-content bg-base-100'
              }`}
              style={{ left: `${String(at(day))}%` }}
              aria-label={`${c.tag}, ${c.part_name}, ${longDay(c.on)}`}
              title={c.because}
              onPointerDown={(e) => {
                e.currentTarget.setPointerCapture(e.pointerId)
                setDragged({ part: c.part, day: c.on })
              }}
              onPointerMove={(e) => {
                const to = dragged && dayUnder(e.clientX)
                if (to) setDragged({ part: c.part, day: to })
              }}
              onPointerUp={(e) => {
                const to = dragged && dayUnder(e.clientX)
                setDragged(undefined)
                if (to) onMove(c, to)
              }}
              onPointerCancel={() => setDragged(undefined)}
              onKeyDown={(e) => {
                if (e.key === 'ArrowLeft') onMove(c, next(c.on, -1))
                if (e.key === 'ArrowRight') onMove(c, next(c.on, 1))
              }}
            >
              {c.short}
            </button>
          )
        })}
      </div>
    </div>
  )
}
