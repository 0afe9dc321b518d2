import { useWords } from '../../api/words'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import type { Schemas } from '../../api/client'
import { newFinish, stillStopped, useFinish, useOnTheWay } from '../../api/finish'
import { useDue, useMay, useToday } from '../../api/queries'
import { keepOfBox, keptOfBox } from '../../api/timeBox'
import { useKeys } from '../../shell/keys'
import { useNotice } from '../../shell/notice'
import { Unsaved } from '../../shell/Unsaved'
import { useWhy } from '../../shell/why'
import { count, nearDay } from '../../words'
import { TabPanel, Tabs } from '../../shell/Tabs'
import { Outlook } from './Outlook'
import { AskedOnce } from './AskedOnce'
import { CannotPlay } from './CannotPlay'
import { saySo } from './headline'
import { ReportedToday } from './ReportedToday'
import { FirstSteps } from './FirstSteps'
import { PlannedToday } from './PlannedToday'
import { ThisWeek } from './ThisWeek'
import { RoundsPage } from './RoundsPage'
import { nameOf, TasksAtPlace, type Task } from './TasksAtPlace'

/** How much of what is due is shown at once. */
const aPage = 200

/** Today answers: what to do with the minutes there are, and what else is due. */
export default function Today() {
  const { defaults } = useWords()
  const [minutes, setMinutes] = useRemembered('minutes', defaults.box_minutes)
  const [helpers, setHelpers] = useRemembered('helpers', 0)
  const [page, setPage] = useState<'run' | 'due' | 'rounds'>('run')
  const all = page === 'due'
  const { data: today, error, isPlaceholderData } = useToday(minutes, helpers)
  const [most, setMost] = useState(aPage)
  const { data: due } = useDue(all, most)

  if (error && !today) return <Trouble message={error.message} />
  if (!today) return <p className="quiet">Reading the clocks…</p>
  if (today.empty) return <FirstSteps fresh />

  const places = all ? due?.places : today.box.places
  return (
    <div className="grid gap-7 lg:grid-cols-[1fr_300px]">
      <section aria-busy={isPlaceholderData}>
        {error && <Trouble message={error.message} />}
        <FirstSteps idle={nothingWaits(today)} />
        <AskedOnce list={today.asked} />
        <CannotPlay list={today.cannot_play} said={saySo(today)} />
        <ReportedToday list={today.reports} />
        <PlannedToday list={today.planned} today={today.strip[0]?.date} />
        <ThisWeek list={today.season} />
        <div className="flex flex-wrap items-baseline gap-x-4 gap-y-1">
          <h1>
            I have <NumberInText label="minutes" value={minutes} most={480} onChange={setMinutes} />{' '}
            {minutes === 1 ? 'minute' : 'minutes'} and{' '}
            <NumberInText label="helpers" value={helpers} most={20} onChange={setHelpers} />{' '}
            {helpers === 1 ? 'helper' : 'helpers'}
          </h1>
          <Tabs
            id="today"
            label="What to show"
            className="ml-auto"
            pages={[
              ['run', 'This run'],
              ['rounds', 'Rounds'],
              ['due', `All due (${String(today.late + today.due)})`],
            ]}
            at={page}
            onChoose={setPage}
          />
        </div>
        <TabPanel of="today" at={page}>
          {page === 'rounds' ? (
            <RoundsPage />
          ) : (
            <>
              <p className="quiet mt-1 text-sm">
                {all
                  ? `${String(today.late)} late and ${String(today.due)} due; ${String(today.opening)} more may be done early.`
                  : boxLine(today)}
              </p>
              {places && <Places key={page} places={places} showSetup={!all} />}
              {all && due && due.total > most && (
                <button className="because mt-3" onClick={() => setMost(Math.min(2000, most + aPage))}>
                  show more of {due.total}
                </button>
              )}
              {!all && today.box.next && (
                <p className="quiet mt-3 text-sm">
                  With {count(Math.ceil(today.box.next.extra_minutes), 'more minute')} also: {today.box.next.task.tag},{' '}
                  {nameOf(today.box.next.task)}.
                </p>
              )}
            </>
          )}
        </TabPanel>
      </section>
      <Outlook today={today} />
    </div>
  )
}

const nothingWaits = (today: Schemas['Today']) =>
  today.late + today.due + today.cannot_play.length + today.reports.length + today.planned.length === 0 &&
  today.box.places.length === 0

function boxLine({ box, ahead }: Schemas['Today']) {
  if (box.places.length === 0) {
    if (box.left_out > 0) return 'Nothing fits into this time.'
    if (!ahead) return 'Nothing is waiting. Enjoy the music.'
    const others = ahead.more > 0 ? ` and ${String(ahead.more)} more` : ''
    return `Nothing is waiting. Next: ${ahead.tag}, ${ahead.title}${others}, ${nearDay(ahead.on)}. Enjoy the music.`
  }
  return `${String(box.used_minutes)} of ${count(box.capacity_minutes, 'minute')} used. ${leftOut(box)} Most worth first.${
    box.near < 1 ? ` At least ${String(Math.floor(box.near * 1000) / 10)} % of the best there could be.` : ''
  }`
}

function leftOut({ left_out, left_due }: Schemas['Box']) {
  if (left_out === 0) return 'Nothing is left out.'
  if (left_due === 0) return `${count(left_out, 'task')} left out that may wait.`
  if (left_due === left_out) return `${count(left_out, 'due task')} left out.`
  return `${count(left_due, 'due task')} left out, and ${String(left_out - left_due)} that may wait.`
}

/** The lines with their keys: j k move, x selects, d ticks off, w asks why, Enter opens. */
function Places({ places, showSetup }: { places: Schemas['AtPlace'][]; showSetup: boolean }) {
  const navigate = useNavigate()
  const ask = useWhy()
  const notice = useNotice()
  const may = useMay('finish care')
  const [current, setCurrent] = useState(0)
  const [selected, setSelected] = useState<ReadonlySet<string>>(new Set())
  const gone = new Set(useOnTheWay().map(idOf))

  const finish = useFinish((result) => {
    const already = result.already.length > 0 ? ` ${result.already.join(', ')} had been ticked off already.` : ''
    notice.show(`${count(result.events.length, 'task')} done.${already}${stillStopped(result)}`, result.events)
  })
  const shown = places
    .map((r) => ({ ...r, tasks: r.tasks.filter((t) => !gone.has(idOf(t))) }))
    .filter((r) => r.tasks.length > 0)
  const flat = shown.flatMap((r) => r.tasks)
  const here = flat[Math.min(current, flat.length - 1)]

  const tick = (chosen: Task[]) => {
    const tasks = chosen.filter((t) => !t.stopped)
    if (!may || tasks.length === 0) return
    setSelected(new Set())
    finish.mutate(newFinish(tasks.map(({ instrument_id, routine, part }) => ({ instrument_id, routine, part }))))
  }
  const toggle = (task: Task) => {
    if (task.stopped) return
    const next = new Set(selected)
    if (!next.delete(idOf(task))) next.add(idOf(task))
    setSelected(next)
  }
  const move = (by: number) => () => {
    const to = Math.max(0, Math.min(flat.length - 1, current + by))
    setCurrent(to)
    const task = flat[to]
    if (task) document.getElementById(idOf(task))?.scrollIntoView({ block: 'nearest' })
  }
  useKeys({
    j: move(1),
    k: move(-1),
    x: () => here && toggle(here),
    d: () => {
      const many = flat.filter((t) => selected.has(idOf(t)))
      tick(many.length > 0 ? many : here ? [here] : [])
    },
    w: () => here && ask(here),
    Enter: () => here && void navigate(`/instruments/${here.instrument_id}`),
  })

  return (
    <>
      <Unsaved finish={finish} />
      {selected.size > 0 && (
        <div className="sticky top-0 z-10 mt-2 flex items-center gap-3 bg-base-200 px-3 py-2">
          <b>{selected.size} selected</b>
          <button className="btn btn-sm btn-primary" onClick={() => tick(flat.filter((t) => selected.has(idOf(t))))}>
            Done
          </button>
          <button className="btn btn-sm" onClick={() => setSelected(new Set())}>
            Clear
          </button>
        </div>
      )}
      {shown.map((at) => (
        <TasksAtPlace
          key={at.place}
          at={at}
          showSetup={showSetup}
          current={here && idOf(here)}
          selected={selected}
          onToggle={toggle}
          onDone={may ? (task) => tick([task]) : undefined}
          onCurrent={(task) => setCurrent(flat.indexOf(task))}
        />
      ))}
    </>
  )
}

const idOf = (t: Schemas['FinishTask']) => `${t.instrument_id}/${t.routine}/${t.part}`

function NumberInText(props: { label: string; value: number; most: number; onChange: (n: number) => void }) {
  return (
    <input
      className="number-in-text"
      type="number"
      inputMode="numeric"
      min={0}
      max={props.most}
      aria-label={props.label}
      value={props.value}
      onFocus={(e) => e.currentTarget.select()}
      onChange={(e) =>
        props.onChange(Math.max(0, Math.min(props.most, Math.floor(e.currentTarget.valueAsNumber) || 0)))
      }
    />
  )
}

function Trouble({ message }: { message: string }) {
  return (
    <p role="alert" className="my-2 text-error">
      {message}
    </p>
  )
}

/** A number that this browser remembers. */
function useRemembered(name: 'minutes' | 'helpers', otherwise: number): [number, (n: number) => void] {
  const [value, setValue] = useState(() => keptOfBox(name) ?? otherwise)
  return [
    value,
    (n) => {
      keepOfBox(name, n)
      setValue(n)
    },
  ]
}
