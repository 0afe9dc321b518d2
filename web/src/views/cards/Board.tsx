import { useCallback, useEffect, useRef, useState } from 'react'
import { Link, useParams, useSearchParams } from 'react-router'
import { api, take, type Schemas } from '../../api/client'
import { newID } from '../../api/id'
import { Drawing } from '../../drawings/Drawing'
import { useKeys } from '../../shell/keys'
import { NotThere } from '../../shell/NotThere'
import { useBoard, useProgress, type Phase } from './queries'

type Section = Schemas['BoardSection']

// The letters of the step at hand are 2.5 hundredths of the picture's width, 2.1 where there are more than six sections: on a picture 2.4 m
// wide, capitals of 42 and 35 mm. At twelve metres normal sight reads 17 mm (five minutes of arc); twice that is read from the last row.
const keys = '1234567890'

/** All sections side by side in front of the class, until the bell. Keys: a number for a section, space to begin or stop, plus and minus. */
export default function Board() {
  const { ensemble = '', phase = 'pack-up' } = useParams()
  const [query] = useSearchParams()
  const language = query.get('l') ?? 'en'
  const { data: board, isError } = useBoard(ensemble, phase as Phase, language)
  if (isError)
    return (
      <Full>
        <NotThere back="/cards/pack-up" name="pack-up" />
      </Full>
    )
  if (!board) return <Full>Reading the sections…</Full>
  if (board.sections.length === 0)
    return (
      <Full>
        <p>Nobody plays in {board.ensemble} yet.</p>
        <Leave />
      </Full>
    )
  return <Running board={board} ensemble={ensemble} language={language} />
}

const Full = ({ children }: { children: React.ReactNode }) => (
  <div className="fixed inset-0 z-50 flex flex-col overflow-auto bg-base-100 px-[3vw] py-[2vw]" data-theme="pit">
    {children}
  </div>
)

const Leave = () => (
  <Link className="btn btn-sm btn-ghost" to="/cards/pack-up">
    Close
  </Link>
)

function Running({ board, ensemble, language }: { board: Schemas['PackUpBoard']; ensemble: string; language: string }) {
  const bell = board.bell ? Date.parse(board.bell) : undefined
  const [now, setNow] = useState(() => Date.now())
  const [ends, setEnds] = useState<number>()
  const [time, setTime] = useState('') // this time's id, so that nobody is ready from an earlier one
  const [own, setOwn] = useState<ReadonlySet<string>>(new Set())
  const said = useProgress(ensemble).data
  const phones = said && said.id === time ? said.ready : []
  const ready = new Set([...own, ...phones])
  const length = board.minutes * 60e3
  const tight = board.sections.length > 6
  const tell = useTell(ensemble, board.phase)

  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), 250)
    return () => clearInterval(timer)
  }, [])
  const run = (id: string, until: number, done: ReadonlySet<string>) => {
    setTime(id)
    setOwn(done)
    setEnds(until)
    tell(id, until, [...done])
  }
  const begin = (until: number) => run(newID(), until, new Set())
  const mark = (section: Section | undefined) => {
    if (!section) return
    const next = new Set(ready)
    if (!next.delete(section.name)) next.add(section.name)
    setOwn(next)
    if (ends !== undefined) tell(time, ends, [...next])
  }
  const move = (by: number) => ends !== undefined && run(time, Math.max(now, ends + by * 60e3), ready)
  useKeys({
    ...Object.fromEntries([...keys].map((key, n) => [key, () => mark(board.sections[n])])),
    ' ': () => (ends === undefined ? begin(now + length) : setEnds(undefined)),
    '+': () => move(1),
    '-': () => move(-1),
  })
  const left = ends === undefined ? length : Math.max(0, ends - now)
  const gone = ends === undefined ? 0 : Math.min(1, 1 - left / length)
  return (
    <Full>
      <div className="flex items-end gap-[2vw]">
        <h1 className="text-[3.4vw]">
          {board.phase === 'pack-up' ? 'Pack up' : 'Set up'}{' '}
          <span className="quiet text-[1.8vw] font-normal">{board.ensemble}</span>
        </h1>
        <p
          className={`ml-auto leading-none font-bold tabular-nums ${tight ? 'text-[6vw]' : 'text-[8vw]'}`}
          role="timer"
          aria-label="Time left"
        >
          {clock(left)}
        </p>
        <p className="quiet pb-[1vw] text-[1.8vw]">{left === 0 ? 'the bell' : 'to the bell'}</p>
      </div>
      <div className={`mt-[1.5vw] grid flex-1 auto-rows-fr gap-x-[2vw] gap-y-[1vw] ${columns(board.sections.length)}`}>
        {board.sections.map((s, n) => (
          <SectionSteps
            key={s.name}
            section={s}
            number={keys[n]}
            tight={tight}
            at={
              ends === undefined
                ? -1
                : Math.min(s.steps.length - 1, Math.floor(((gone * board.minutes) / s.minutes) * s.steps.length))
            }
            ready={ready.has(s.name)}
            onReady={() => mark(s)}
          />
        ))}
      </div>
      <div className="mt-[1vw] flex flex-wrap items-center gap-2 text-[1.8vw]">
        <span className="quiet">
          {board.damp && board.phase === 'pack-up' ? 'Damp cloths hang outside the cases.' : ''}
        </span>
        <span className="ml-auto" role="status">
          {ready.size} of {board.sections.length} ready
        </span>
        <span className="no-print flex gap-1">
          {ends === undefined ? (
            <>
              <button className="btn btn-sm btn-primary" onClick={() => begin(now + length)}>
                Begin: {board.minutes} minutes
              </button>
              {bell && bell - now < 90 * 60e3 && bell > now && (
                <button className="btn btn-sm" onClick={() => begin(bell)}>
                  Until the bell
                </button>
              )}
            </>
          ) : (
            <>
              <button className="btn btn-sm" onClick={() => move(1)}>
                One minute more
              </button>
              <button className="btn btn-sm" onClick={() => setEnds(undefined)}>
                Stop
              </button>
            </>
          )}
          <button className="btn btn-sm btn-ghost" onClick={() => void document.documentElement.requestFullscreen()}>
            Full screen
          </button>
          <Leave />
        </span>
      </div>
      <p className="sr-only" lang={language}>
        Press the number of a section when it is ready.
      </p>
    </Full>
  )
}

const columns = (n: number) =>
  n <= 3
    ? 'grid-cols-3'
    : n === 4
      ? 'grid-cols-4'
      : n <= 5 || n > 8
        ? 'grid-cols-5'
        : n <= 6
          ? 'grid-cols-6'
          : 'grid-cols-4'

const clock = (ms: number) => {
  const seconds = Math.ceil(ms / 1000)
  return `${String(Math.floor(seconds / 60))}:${String(seconds % 60).padStart(2, '0')}`
}

/** Keeps how far everybody is, so that phones can say ready; without a network the board goes on by itself. */
function useTell(ensemble: string, phase: Schemas['PackUpBoard']['phase']) {
  const line = useRef(Promise.resolve<unknown>(undefined))
  return useCallback(
    (id: string, until: number, ready: string[]) => {
      line.current = line.current.then(() =>
        take(
          api.PUT('/api/v1/pack-up', {
            body: {
              id,
              ensemble,
              phase,
              seconds: Math.min(14400, Math.max(0, Math.round((until - Date.now()) / 1000))),
              ready,
            },
          }),
        ).catch(() => undefined),
      )
    },
    [ensemble, phase],
  )
}

function SectionSteps(props: {
  section: Section
  number: string | undefined
  tight: boolean
  at: number
  ready: boolean
  onReady: () => void
}) {
  const { section: s, at, ready, tight } = props
  const step = s.steps[Math.max(0, at)]
  const rest = s.steps.slice(Math.max(0, at) + 1)
  const cautioned = s.caution !== '' && at <= 0
  const few = tight ? (cautioned ? 0 : 1) : 3
  return (
    <section
      aria-label={s.name}
      className={`min-w-0 border-t-[5px] pt-[0.8vw] ${ready ? 'border-success' : at < 0 ? 'border-base-300' : 'border-primary'}`}
    >
      <button
        className="flex w-full cursor-pointer items-baseline gap-[0.6vw] text-left"
        aria-pressed={ready}
        onClick={props.onReady}
      >
        <h2 className="text-[2.3vw] whitespace-nowrap">{s.name}</h2>
        {props.number && <kbd className="quiet text-[1.1vw]">{props.number}</kbd>}
        {tight && !ready && (
          <Drawing
            name={s.drawing}
            label=""
            parts={step?.parts}
            className="ml-auto h-[4.6vw] w-[5.4vw] shrink-0 self-start"
          />
        )}
      </button>
      {ready ? (
        <p className="mt-[1.5vw] text-[3.2vw] font-bold text-success">Ready</p>
      ) : (
        <>
          {!tight && <Drawing name={s.drawing} label="" parts={step?.parts} className="mt-[0.6vw] h-[10vw] w-full" />}
          {cautioned && <p className="mt-[0.6vw] text-[1.5vw] leading-tight text-warning">{s.caution}</p>}
          <p className={`mt-[0.6vw] leading-[1.15] font-bold ${tight ? 'text-[2.1vw]' : 'text-[2.5vw]'}`}>
            {step?.text}
          </p>
          <ol className="quiet mt-[0.8vw] space-y-[0.5vw] text-[1.5vw] leading-tight">
            {rest.slice(0, few).map((l) => (
              <li key={l.text}>{l.text}</li>
            ))}
          </ol>
          {rest.length > few && <p className="quiet mt-[0.5vw] text-[1.3vw]">then {rest.length - few} more</p>}
        </>
      )}
    </section>
  )
}
