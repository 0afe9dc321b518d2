import { useState } from 'react'
import type { Schemas } from '../../api/client'
import { clockTime } from '../../words'

type Bar = Schemas['Bar']
type Lane = { key: string; name: string; bars: Bar[] }

const lane = 22
const left = 104

/** The plan as bars: a lane for each person, each station, or each instrument. Work is solid, waiting is hollow. */
export function Bars({ plan }: { plan: Schemas['BenchPlan'] }) {
  const [by, setBy] = useState<'people' | 'stations' | 'instruments'>('people')
  const lanes = lanesOf(plan, by)
  const width = 760
  const x = (minute: number) => left + (minute / Math.max(1, plan.minutes)) * (width - left - 4)
  const step = [5, 10, 15, 30, 60, 120, 240, 480, 1440].find((s) => plan.minutes / s <= 10) ?? 2880
  const marks = Array.from({ length: Math.floor(plan.minutes / step) + 1 }, (_, n) => n * step)
  const began = Date.parse(plan.over_at) - plan.minutes * 60_000
  // Neighbours differ: every second instrument has the other ink.
  const second = new Set(plan.items.filter((i) => !i.cannot).flatMap((i, n) => (n % 2 ? [i.tag] : [])))
  const height = lanes.length * lane + 22
  return (
    <section aria-label="Who does what when" className="mt-3">
      <div role="group" aria-label="Lanes" className="mb-1 flex gap-4 text-sm">
        {(['people', 'stations', 'instruments'] as const).map((b) => (
          <button
            key={b}
            aria-pressed={by === b}
            className={`cursor-pointer border-b-2 ${by === b ? 'border-primary font-bold' : 'quiet border-transparent'}`}
            onClick={() => setBy(b)}
          >
            by {b}
          </button>
        ))}
        <span className="quiet ml-auto">solid: somebody works · hollow: it waits</span>
      </div>
      <div className="overflow-x-auto" tabIndex={0} role="region" aria-label="The plan as bars">
        <svg
          viewBox={`0 0 ${String(width)} ${String(height)}`}
          className="w-full min-w-[680px] print:min-w-0"
          role="img"
          aria-label={`${String(plan.bars.length)} steps of ${String(plan.items.length)} instruments over ${String(plan.minutes)} minutes`}
        >
          {marks.map((m) => (
            <g key={m}>
              <line x1={x(m)} x2={x(m)} y1={0} y2={height - 18} className="stroke-base-300" />
              <text
                x={Math.min(x(m), width - 16)}
                y={height - 5}
                textAnchor="middle"
                className="fill-secondary text-[13px]"
              >
                {clockTime(new Date(began + m * 60_000).toISOString())}
              </text>
            </g>
          ))}
          {lanes.map((l, n) => (
            <g key={l.key} transform={`translate(0 ${String(n * lane)})`}>
              <text x={0} y={15} className="fill-base-content text-[13px]">
                {l.name}
              </text>
              <line x1={left} x2={width} y1={lane - 0.5} y2={lane - 0.5} className="stroke-base-300" />
              {l.bars.map((b) => (
                <OneBar key={`${b.tag}/${b.step}`} bar={b} x={x} by={by} second={second.has(b.tag)} />
              ))}
            </g>
          ))}
        </svg>
      </div>
    </section>
  )
}

type BarProps = { bar: Bar; x: (minute: number) => number; by: string; second: boolean }

function OneBar({ bar, x, by, second }: BarProps) {
  const working = x(bar.start + bar.active) - x(bar.start)
  const waits = by === 'instruments' || (by === 'stations' && bar.held)
  const waiting = waits ? x(bar.start + bar.active + bar.wait) - x(bar.start + bar.active) : 0
  const words = by === 'instruments' ? bar.step : bar.tag
  const end = bar.start + bar.active
  return (
    <g>
      <title>{`${bar.tag}, ${bar.step}: minute ${String(bar.start)} to ${String(end)}${bar.wait ? `, then ${String(bar.wait)} min waiting` : ''}`}</title>
      {bar.active > 0 && (
        <rect
          x={x(bar.start)}
          y={3}
          width={Math.max(1, working - 0.8)}
          height={15}
          className={second ? 'fill-accent' : 'fill-primary'}
        />
      )}
      {waiting > 0 && (
        <rect
          x={x(end)}
          y={3.5}
          width={Math.max(1, waiting - 0.8)}
          height={14}
          fill="none"
          strokeDasharray="3 2"
          className={second ? 'stroke-accent' : 'stroke-primary'}
        />
      )}
      {working + waiting > words.length * 7.4 + 4 && (
        <text
          x={x(bar.start) + 3}
          y={14.5}
          className={`text-[13px] ${working > words.length * 7.4 + 4 ? 'fill-primary-content' : 'fill-base-content'}`}
        >
          {working > words.length * 7.4 + 4 ? words : ''}
        </text>
      )}
    </g>
  )
}

function lanesOf(plan: Schemas['BenchPlan'], by: 'people' | 'stations' | 'instruments'): Lane[] {
  if (by === 'people')
    return Array.from({ length: plan.people }, (_, n) => ({
      key: String(n),
      name: `Person ${String(n + 1)}`,
      bars: plan.bars.filter((b) => b.person === n),
    }))
  if (by === 'stations')
    return plan.lanes.flatMap((s) =>
      Array.from({ length: s.count }, (_, n) => ({
        key: `${s.key}/${String(n)}`,
        name: s.count > 1 ? `${s.name} ${String(n + 1)}` : s.name,
        bars: plan.bars.filter((b) => b.station === s.key && b.place === n),
      })).filter((l) => l.bars.length > 0),
    )
  return plan.items
    .filter((i) => !i.cannot)
    .map((i) => ({ key: i.tag, name: i.tag, bars: plan.bars.filter((b) => b.tag === i.tag) }))
}
