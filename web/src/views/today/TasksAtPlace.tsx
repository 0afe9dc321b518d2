import { TriangleAlert } from 'lucide-react'
import { Link } from 'react-router'
import type { Schemas } from '../../api/client'
import { Mark, markOf } from '../../marks/Mark'
import { WhyButton } from '../../shell/why'
import { count, nearDay } from '../../words'

export type Task = Schemas['Task']

/** "Change the string: E string". */
export const nameOf = (t: Task) => (t.part_name ? `${t.title}: ${t.part_name}` : t.title)

/** Where it is said how it is done: step by step for what is renewed. */
export const howOf = (t: Task) =>
  t.guided
    ? `/instruments/${t.instrument_id}/renewal/${t.part}`
    : `/instruments/${t.instrument_id}?routine=${t.routine}`

type Props = {
  at: Schemas['AtPlace']
  showSetup: boolean
  current: string | undefined
  selected: ReadonlySet<string>
  onToggle: (task: Task) => void
  onDone: ((task: Task) => void) | undefined
  onCurrent: (task: Task) => void
}

/** The tasks of one place, a line each. */
export function TasksAtPlace({ at, showSetup, ...line }: Props) {
  return (
    <section className="mt-3" aria-labelledby={`place-${at.place}`}>
      <p className="quiet line pb-1 text-sm">
        <b id={`place-${at.place}`} className="mr-2 text-base-content">
          {at.name}
        </b>
        {showSetup && at.setup_minutes > 0 && `set-up ${String(at.setup_minutes)} min: `}
        {showSetup ? at.brings : count(at.tasks.length, 'task')}
      </p>
      {at.cautions.length > 0 && (
        <p className="flex gap-1.5 py-1 text-sm">
          <TriangleAlert size={16} className="mt-0.5 shrink-0 text-error" aria-label="Caution" />
          <span>{at.cautions.join(' ')}</span>
        </p>
      )}
      <ul>
        {at.tasks.map((task) => (
          <Line key={`${task.instrument_id}/${task.routine}/${task.part}`} task={task} {...line} />
        ))}
      </ul>
    </section>
  )
}

function Line({
  task,
  current,
  selected,
  onToggle,
  onDone,
  onCurrent,
}: { task: Task } & Omit<Props, 'at' | 'showSetup'>) {
  const id = `${task.instrument_id}/${task.routine}/${task.part}`
  const chosen = selected.has(id)
  return (
    <li
      id={id}
      aria-current={current === id}
      onClick={() => onCurrent(task)}
      className={`line grid grid-cols-[22px_22px_60px_1fr_auto] items-center gap-x-2 py-1 sm:grid-cols-[22px_22px_60px_1fr_52px_34px_64px] ${
        current === id ? 'bg-base-200' : ''
      }`}
    >
      <input
        type="checkbox"
        className="checkbox checkbox-xs justify-self-center"
        aria-label={`Select ${task.tag}, ${nameOf(task)}`}
        disabled={Boolean(task.stopped)}
        checked={chosen}
        onChange={() => onToggle(task)}
      />
      <Mark name={task.stopped ? 'stopped' : markOf[task.state]} />
      <Link to={`/instruments/${task.instrument_id}`} className="font-bold tracking-wide">
        {task.tag}
      </Link>
      <span className="min-w-0">
        <Link to={howOf(task)} title="How it is done">
          {nameOf(task)}
        </Link>{' '}
        <span className="quiet text-sm">{sinceOf(task)}</span>{' '}
        {task.stopped && <span className="text-sm text-error">stopped: {task.stopped}; not now</span>}{' '}
        <span className="sm:hidden">
          <WhyButton task={task} />
        </span>
      </span>
      <span className="quiet hidden text-right sm:block">{task.minutes} min</span>
      <span className="hidden text-right sm:block">
        <WhyButton task={task} />
      </span>
      {onDone && !task.stopped ? (
        <button
          className="btn btn-outline btn-primary btn-sm"
          aria-label={`Done: ${task.tag}, ${nameOf(task)}`}
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

/** How far the clock has run, in the unit that binds it. */
function sinceOf(t: Task) {
  const occasion = occasions[t.binding]
  if (occasion) return t.due_on ? `${occasion}, since ${nearDay(t.due_on)}` : occasion
  const run =
    t.binding === 'playing_hours'
      ? `${t.elapsed.playing_hours.toFixed(0)} h played`
      : t.binding === 'sessions'
        ? count(t.elapsed.sessions, 'session')
        : `${String(t.elapsed.days)} days`
  return t.due_on ? `${run}, due ${nearDay(t.due_on)}` : run
}

/** What made it due, where no limit did. */
const occasions: Partial<Record<Task['binding'], string>> = {
  returned: 'came back',
  before_concert: 'a concert is near',
  season: 'the season turned',
  unplayed: 'unplayed',
}
