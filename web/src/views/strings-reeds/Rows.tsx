import type { Schemas } from '../../api/client'
import { Mark, markOf } from '../../marks/Mark'
import { count, nearDay } from '../../words'
import { Board } from './Board'
import { Backdrop, DayNames, placing } from './Days'
import { wave } from './Strings'
import { useState, type ReactNode } from 'react'

type Before = Schemas['Before']
type Pinned = Schemas['PlannedChange'][]

type Props = {
  before: Before
  closed: string[]
  onClose: (day: string) => void
  chosen: string | undefined
  onChoose: (kind: string) => void
  pinned: Pinned
  onPin: (pinned: Pinned) => void
}

/** The days to the concert from left to right, a row for each section: strings as strings, reeds as the minutes of their first days. */
export function Rows({ before, closed, onClose, chosen, onChoose, pinned, onPin }: Props) {
  const [open, setOpen] = useState<string>()
  const { days } = before
  const at = placing(days)
  return (
    <div className="mt-3 overflow-x-auto">
      <div className="min-w-[620px]">
        <DayNames days={days} at={at} closed={closed} onClose={onClose} />
        {before.strings.map((s) => (
          <div key={s.kind}>
            <Row
              days={days}
              name={s.section}
              says={s.changes === 0 ? 'nothing to change' : stringsSay(s)}
              pressed={open === s.kind}
              onPress={s.changes > 0 ? () => setOpen(open === s.kind ? undefined : s.kind) : undefined}
            >
              <StringLines section={s} changes={before.changes.filter((c) => c.kind === s.kind)} at={at} />
              {s.latest_start && <Latest at={at(s.latest_start)} says={`latest start: ${nearDay(s.latest_start)}`} />}
            </Row>
            {open === s.kind && (
              <Board
                days={days}
                changes={before.changes.filter((c) => c.kind === s.kind)}
                pinned={pinned}
                onPin={onPin}
              />
            )}
          </div>
        ))}
        {before.reeds.map((r) => (
          <Row
            key={r.kind}
            days={days}
            name={r.kind_name}
            says={r.must_open === 0 ? 'ready' : `${String(r.must_open)} of ${String(r.chairs.length)} must open one`}
            pressed={chosen === r.kind}
            onPress={() => onChoose(r.kind)}
            slim={r.must_open === 0}
          >
            {r.must_open > 0 && <BreakIn section={r} at={at} />}
          </Row>
        ))}
        {before.bows.length > 0 && (
          <Row days={days} name="Bows" says={bowsSay(before.bows)}>
            {before.bows.map((b) => (
              <span
                key={b.instrument_id}
                className="absolute top-1/2 -translate-x-1/2 -translate-y-1/2"
                style={{
                  left: `${String(at(b.due_on && b.due_on > (days[0]?.date ?? '') ? b.due_on : (days[0]?.date ?? '')))}%`,
                }}
                title={`${b.tag}: ${b.advice === undefined ? 'hair is due' : b.advice.choice === 'new' ? 'a new bow' : 'rehair'}`}
              >
                <Mark name={markOf[b.state]} />
              </span>
            ))}
          </Row>
        )}
      </div>
    </div>
  )
}

const stringsSay = (s: Schemas['StringSection']) =>
  `${s.sets > 0 ? count(s.sets, 'set') : count(s.changes, 'string')}${
    s.sets > 0 && s.instruments > s.sets ? ` and ${count(s.instruments - s.sets, 'instrument')} in part` : ''
  }, ${String(s.minutes)} min`

const bowsSay = (bows: Schemas['Bow'][]) => {
  const fresh = bows.filter((b) => b.advice?.choice === 'new').length
  const hair = bows.filter((b) => b.advice?.choice === 'rehair').length
  const unsaid = bows.length - fresh - hair
  return [
    hair > 0 && `${String(hair)} to rehair`,
    fresh > 0 && `${String(fresh)} to replace`,
    unsaid > 0 && `${String(unsaid)} of unknown worth`,
  ]
    .filter(Boolean)
    .join(', ')
}

type RowProps = {
  days: Schemas['CalendarDay'][]
  name: string
  says: string
  pressed?: boolean
  onPress?: (() => void) | undefined
  slim?: boolean
  children: ReactNode
}

function Row({ days, name, says, pressed = false, onPress, slim = false, children }: RowProps) {
  const label = (
    <>
      <b>{name}</b> <span className={`quiet text-sm ${slim ? '' : 'block'}`}>{says}</span>
    </>
  )
  return (
    <div className="line grid grid-cols-[112px_1fr] sm:grid-cols-[150px_1fr]">
      {onPress ? (
        <button
          className={`cursor-pointer ${slim ? 'py-1' : 'py-2'} pr-2 text-left ${pressed ? 'border-l-3 border-primary pl-2' : ''}`}
          aria-pressed={pressed}
          onClick={onPress}
        >
          {label}
        </button>
      ) : (
        <div className={slim ? 'py-1 pr-2' : 'py-2 pr-2'}>{label}</div>
      )}
      <div className={`relative border-l-2 border-primary ${slim ? '' : 'min-h-[58px]'}`}>
        <Backdrop days={days} />
        {children}
      </div>
    </div>
  )
}

/** Each string of a section: a broken line until the last is changed, a wave while each new one settles, then whole. */
function StringLines({
  section,
  changes,
  at,
}: {
  section: Schemas['StringSection']
  changes: Schemas['StringChange'][]
  at: (day: string) => number
}) {
  return (
    <div className="absolute inset-x-0 top-1/2 flex -translate-y-1/2 flex-col gap-[3px]">
      {section.strings.map((s, n) => {
        const of = changes.filter((c) => c.part === s.part)
        const last = of[of.length - 1]
        const days = [...new Map(of.map((c) => [c.on, c.settled_on]))]
        const until = last ? at(last.settled_on) : 0
        return (
          <div
            key={s.part}
            className="relative h-2"
            role="img"
            aria-label={`${s.name}: ${last ? days.map(([on]) => nearDay(on)).join(', ') : 'nothing to change'}`}
          >
            <svg viewBox="0 0 1000 8" preserveAspectRatio="none" className="absolute inset-0 h-2 w-full">
              {last && (
                <path
                  d={`M0 4H${String(at(last.on) * 10)}`}
                  className="stroke-secondary"
                  strokeWidth={1 + n * 0.5}
                  strokeDasharray="4 4"
                  vectorEffect="non-scaling-stroke"
                />
              )}
              {days.map(([on, settled]) => (
                <path
                  key={on}
                  d={wave((at(settled) - at(on)) * 10, 14)}
                  transform={`translate(${String(at(on) * 10)} 0)`}
                  fill="none"
                  className="stroke-primary"
                  strokeWidth={1 + n * 0.4}
                  vectorEffect="non-scaling-stroke"
                />
              ))}
              <path
                d={`M${String(until * 10)} 4H1000`}
                className="stroke-base-content"
                strokeWidth={1 + n * 0.6}
                vectorEffect="non-scaling-stroke"
              />
            </svg>
            {days.map(([day]) => (
              <span
                key={day}
                className="absolute top-1/2 size-2 -translate-x-1/2 -translate-y-1/2 rounded-full bg-base-content"
                style={{ left: `${String(at(day))}%` }}
              />
            ))}
          </div>
        )
      })}
    </div>
  )
}

function Latest({ at, says }: { at: number; says: string }) {
  const left = at > 70
  return (
    <span className="absolute inset-y-1 border-l-2 border-warning" style={{ left: `${String(at)}%` }}>
      <span
        className={`absolute -top-0.5 text-xs whitespace-nowrap text-warning ${left ? 'right-1' : 'left-1'} bg-base-100/80 px-0.5 font-bold`}
      >
        {says}
      </span>
    </span>
  )
}

/** The minutes of a reed that is opened on the latest day, and the day from which it is free. */
function BreakIn({ section: r, at }: { section: Schemas['ReedSection']; at: (day: string) => number }) {
  if (r.program.length === 0)
    return <span className="absolute top-1/2 left-3 -translate-y-1/2 text-sm text-error">too late to break one in</span>
  const most = Math.max(...r.program.map((p) => p.minutes))
  return (
    <>
      {r.program.map((p) => (
        <span
          key={p.date}
          className="absolute bottom-1 flex -translate-x-1/2 flex-col items-center"
          style={{ left: `${String(at(p.date))}%` }}
        >
          <span className="w-3 bg-primary" style={{ height: `${String(3 + (24 * p.minutes) / most)}px` }} />
          <span className="text-xs leading-4">{p.minutes}</span>
        </span>
      ))}
      {r.ready_on && (
        <>
          <span
            className="absolute bottom-[18px] -translate-x-1/2 translate-y-1/2"
            style={{ left: `${String(at(r.ready_on))}%` }}
          >
            <Mark name="ready" />
          </span>
        </>
      )}
      {r.open_by && <Latest at={at(r.open_by)} says={`latest: ${nearDay(r.open_by)}`} />}
    </>
  )
}
