import { Link } from 'react-router'
import type { Schemas } from '../../api/client'
import { useHeader } from '../../api/queries'
import { Mark, markOf } from '../../marks/Mark'
import { WhyButton } from '../../shell/why'
import { away, count, daysBetween, fullDay } from '../../words'

type Task = Schemas['Task']
type Part = Schemas['PartWear']

/** Each part with its clocks as bars: how much of the limit has run, and the day it will be full. */
export function Wear({ parts, onDone }: { parts: Part[]; onDone: ((task: Task) => void) | undefined }) {
  const still = parts.filter((p) => p.clocks.length === 0)
  return (
    <section aria-label="Wear">
      <ul>
        {parts.flatMap((p) =>
          p.clocks.map((task, n) => (
            <Clock key={p.part + task.routine} part={n === 0 ? p.name : ''} task={task} onDone={onDone} />
          )),
        )}
      </ul>
      {still.length > 0 && (
        <p className="quiet mt-2 text-sm">
          Without a clock of their own: {still.map((p) => p.name.toLowerCase()).join(', ')}.
        </p>
      )}
      <h2 className="mt-4">Never</h2>
      <ul className="mt-1 list-disc pl-5 text-sm">
        {[...new Map(parts.filter((p) => p.never).map((p) => [p.never, p])).values()].map((p) => (
          <li key={p.never}>
            <b>{p.material}:</b> {p.never}
          </li>
        ))}
      </ul>
    </section>
  )
}

const fill = { fresh: 'bg-primary', opening: 'bg-primary', due: 'bg-warning', late: 'bg-error' } as const

function Clock({ part, task, onDone }: { part: string; task: Task; onDone: ((task: Task) => void) | undefined }) {
  const { data: header } = useHeader()
  const percent = Math.round(100 * task.wear)
  return (
    <li className="line grid grid-cols-[22px_1fr_auto_auto] items-center gap-x-2 py-0.5 sm:grid-cols-[22px_92px_minmax(0,1fr)_minmax(50px,80px)_172px_34px_auto]">
      <Mark name={markOf[task.state]} />
      <b className="hidden text-sm sm:block">{part}</b>
      <span>
        <b className="block text-xs sm:hidden">{part}</b>
        {task.guided ? (
          <Link className="link" to={`/instruments/${task.instrument_id}/renewal/${task.part}`}>
            {task.title}
          </Link>
        ) : (
          task.title
        )}
        <span className="block text-xs sm:hidden">
          <DueOn task={task} today={header?.today} />
        </span>
      </span>
      <div
        role="meter"
        aria-label={`${task.title}: worn`}
        aria-valuemin={0}
        aria-valuemax={100}
        aria-valuenow={Math.min(100, percent)}
        aria-valuetext={`${String(percent)} % of the limit`}
        className="hidden h-2 bg-base-300 sm:block"
        title={`${String(percent)} % of the limit: ${count(task.elapsed.days, 'day')}, ${task.elapsed.playing_hours.toFixed(0)} h played`}
      >
        <div className={`h-2 ${fill[task.state]}`} style={{ width: `${String(Math.min(100, percent))}%` }} />
      </div>
      <span className="hidden text-sm whitespace-nowrap sm:block">
        <DueOn task={task} today={header?.today} />
      </span>
      <WhyButton task={task} />
      {onDone ? (
        <button
          className="btn no-print btn-outline btn-primary btn-xs"
          aria-label={`Done: ${task.title} ${task.part_name}`}
          onClick={() => onDone(task)}
        >
          Done
        </button>
      ) : (
        <span />
      )}
    </li>
  )
}

function DueOn({ task, today }: { task: Task; today: string | undefined }) {
  if (!task.due_on || !today)
    return (
      <span className="quiet">{Object.keys(task.limits).length > 0 ? 'not in ten years' : 'no occasion in sight'}</span>
    )
  return (
    <>
      {fullDay(task.due_on)} <span className="quiet">{away(daysBetween(today, task.due_on))}</span>
    </>
  )
}
