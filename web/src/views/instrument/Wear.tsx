import type { Schemas } from '../../api/client'
import { useHeader } from '../../api/queries'
import { Mark, markOf } from '../../marks/Mark'
import { WhyButton } from '../../shell/why'
import { away, count, daysBetween, fullDay } from '../../words'

type Task = Schemas['Task']

/** Each part with its clocks as bars: how much of the limit has run, and the day it will be full. */
export function Wear({ parts, onDone }: { parts: Schemas['PartWear'][]; onDone: ((task: Task) => void) | undefined }) {
  const still = parts.filter((p) => p.clocks.length === 0)
  return (
    <section aria-label="Wear">
      {parts
        .filter((p) => p.clocks.length > 0)
        .map((p) => (
          <div key={p.part} className="mb-3">
            <p className="line pb-0.5 text-sm">
              <b>{p.name}</b> <span className="quiet">{p.material}</span>
            </p>
            {p.clocks.map((task) => (
              <Bar key={task.routine} task={task} onDone={onDone} />
            ))}
          </div>
        ))}
      {still.length > 0 && (
        <p className="quiet text-sm">
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

function Bar({ task, onDone }: { task: Task; onDone: ((task: Task) => void) | undefined }) {
  const { data: header } = useHeader()
  const percent = Math.round(100 * task.wear)
  return (
    <div className="grid grid-cols-[22px_1fr_auto_auto] items-center gap-x-2 py-0.5 sm:grid-cols-[22px_minmax(150px,1fr)_minmax(90px,160px)_150px_34px_auto]">
      <Mark name={markOf[task.state]} />
      <span>{task.title}</span>
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
      <span className="hidden text-sm sm:block">
        {task.due_on && header ? (
          <span title={fullDay(task.due_on)}>
            {fullDay(task.due_on)}
            <span className="quiet"> {away(daysBetween(header.today, task.due_on))}</span>
          </span>
        ) : (
          <span className="quiet">not in ten years</span>
        )}
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
    </div>
  )
}
