import { useState } from 'react'
import { Link } from 'react-router'
import { api, take, type Schemas } from '../../api/client'
import { refresh, useBefore, useMay, useReeds } from '../../api/queries'
import { useWords } from '../../api/words'
import { useWrite } from '../../api/write'
import { useNotice } from '../../shell/notice'
import { Reason } from '../../shell/why'
import { away, count, longDay } from '../../words'
import { Chairs } from './Chairs'
import { Rows } from './Rows'

type Pinned = Schemas['PlannedChange'][]

/** What must begin by when, so that at the concert strings are settled and reeds broken in; and the plan for it. */
export function BeforeConcert() {
  const { defaults } = useWords()
  const [minutes, setMinutes] = useState(defaults.string_minutes)
  const [concert, setConcert] = useState<string>()
  const [pinned, setPinned] = useState<Pinned>([])
  const [closed, setClosed] = useState<string[]>([])
  const [section, setSection] = useState<string>()
  const [asked, setAsked] = useState(false)
  const {
    data: fresh,
    error,
    isPlaceholderData,
  } = useBefore({
    minutes_a_day: minutes,
    ...(concert ? { concert_id: concert } : {}),
    ...(pinned.length > 0 ? { pinned } : {}),
    ...(closed.length > 0 ? { closed_days: closed } : {}),
  })
  const { data: boxes } = useReeds()
  const [kept, setKept] = useState(fresh) // stays while a move is refused
  if (fresh && fresh !== kept) setKept(fresh)
  const data = fresh ?? kept
  if (error && !data) return <p role="alert">{error.message}</p>
  if (!data) return <p className="quiet">Counting the days…</p>
  if (!data.concert)
    return (
      <p>
        No concert is ahead. Say in{' '}
        <Link className="link" to="/settings/calendar">
          Settings
        </Link>{' '}
        when the next one is and who plays; then it stands here what must begin when.
      </p>
    )
  const reeds =
    data.reeds.find((r) => r.kind === section) ??
    data.reeds.find((r) => r.must_open > 0) ??
    [...data.reeds].sort((a, b) => b.chairs.length - a.chairs.length)[0]
  return (
    <div className="grid gap-x-10 gap-y-6 xl:grid-cols-[minmax(0,1fr)_330px]">
      <section aria-label={data.concert.name} aria-busy={isPlaceholderData} className="min-w-0">
        <p className="text-lg">
          {data.concerts.length > 1 ? (
            <select
              className="select select-sm mr-1 w-auto text-base font-bold"
              aria-label="Concert"
              value={data.concert.id}
              onChange={(e) => {
                setPinned([])
                setConcert(e.currentTarget.value)
              }}
            >
              {data.concerts.map((c) => (
                <option key={c.id} value={c.id}>
                  {c.name}, {longDay(c.on)}
                </option>
              ))}
            </select>
          ) : (
            <b>
              {data.concert.name}, {longDay(data.concert.on)}
            </b>
          )}{' '}
          {away(data.concert.days)}: <Starts before={data} />{' '}
          <button className="because" aria-expanded={asked} onClick={() => setAsked(!asked)}>
            why
          </button>
        </p>
        {asked && data.why.map((w) => <Reason key={w.rule} reason={w} />)}
        <p className="quiet mt-1 text-sm">
          With{' '}
          <input
            type="number"
            className="number-in-text text-base-content"
            aria-label="Minutes a day for strings"
            min={0}
            max={480}
            value={minutes}
            onChange={(e) => {
              setPinned([])
              setMinutes(Math.max(0, Math.min(1440, e.currentTarget.valueAsNumber || 0)))
            }}
          />{' '}
          minutes for strings on each school day; press a day on which there is no time.
        </p>
        {error && (
          <p role="alert" className="mt-1 text-error">
            {fieldsOf(error)}{' '}
            <button className="because" onClick={() => setPinned([])}>
              Plan it anew
            </button>
          </p>
        )}
        <Rows
          before={data}
          closed={closed}
          onClose={(day) => {
            setPinned([])
            setClosed(closed.includes(day) ? closed.filter((d) => d !== day) : [...closed, day])
          }}
          chosen={reeds?.kind}
          onChoose={setSection}
          pinned={pinned}
          onPin={setPinned}
        />
        {data.unplaced.length > 0 && (
          <section aria-label="Too late" className="mt-4">
            <h2 className="text-error">Too late for all strings</h2>
            <ul>
              {data.unplaced.map((u) => (
                <li key={u.instrument_id} className="line py-1">
                  <Link to={`/instruments/${u.instrument_id}`} className="font-bold">
                    {u.tag}
                  </Link>{' '}
                  <span className="quiet">{u.strings.join(', ')}.</span> {u.instead}
                </li>
              ))}
            </ul>
          </section>
        )}
        <Accepting changes={data.changes} onDone={() => setPinned([])} />
      </section>
      {reeds && (
        <aside aria-label={`${reeds.kind_name}, chair by chair`}>
          <h2>{reeds.kind_name}, chair by chair</h2>
          <p className="quiet text-sm">the reeds as they are today, the words as they will be at the concert</p>
          <Chairs chairs={reeds.chairs} strengths={reeds.strengths} endings={boxes?.endings ?? []} names={false} />
          <p className="mt-2 text-sm">
            <b>Today each plays</b> the one that has rested longest; it carries a dot.
          </p>
        </aside>
      )}
    </div>
  )
}

/** What a refused plan says of the change that does not fit. */
function fieldsOf(error: Error) {
  const fields = 'fields' in error ? Object.values(error.fields as Record<string, string>) : []
  return fields[0] ?? error.message
}

/** The dates in one sentence. */
function Starts({ before: { starts, strings, reeds } }: { before: Schemas['Before'] }) {
  const need = strings.some((s) => s.changes > 0)
  const open = reeds.some((r) => r.must_open > 0)
  if (!need && !open) return <>all strings and reeds last; nothing has to begin.</>
  if (!open && !starts.strings_by && starts.strings_late === 0)
    return <>the strings stand on the plan; reeds are ready.</>
  return (
    <>
      {starts.strings_by && (
        <>
          begin with the strings by <b>{longDay(starts.strings_by)}</b>
        </>
      )}
      {need && !starts.strings_by && starts.strings_late === 0 && 'the strings stand on the plan'}
      {need && starts.reeds_by && ', '}
      {starts.reeds_by && (
        <>
          open reeds by <b>{longDay(starts.reeds_by)}</b>
        </>
      )}
      {(starts.strings_late > 0 || starts.reeds_late > 0) && (
        <span className="text-error">
          {(starts.strings_by ?? starts.reeds_by) ? '; ' : ''}
          {[
            starts.strings_late > 0 && `too late for ${count(starts.strings_late, 'instrument')}`,
            starts.reeds_late > 0 && `too late for the reeds of ${count(starts.reeds_late, 'player')}`,
          ]
            .filter(Boolean)
            .join(' and ')}
        </span>
      )}
      .
    </>
  )
}

/** What was planned goes to Today, or off it again. */
function Accepting({ changes, onDone }: { changes: Schemas['StringChange'][]; onDone: () => void }) {
  const may = useMay('finish care')
  const notice = useNotice()
  const open = changes.filter((c) => !c.accepted)
  const onPlan = [...new Set(changes.filter((c) => c.accepted).map((c) => c.instrument_id))]
  const accept = useWrite({
    send: () =>
      take(
        api.POST('/api/v1/strings-reeds/plan', {
          body: { changes: open.map(({ instrument_id, part, on }) => ({ instrument_id, part, on })) },
        }),
      ),
    onSuccess: async () => {
      onDone()
      notice.show('Each string stands on Today on its day.')
      await refresh()
    },
    onError: (problem) => notice.show(problem.message),
  })
  const drop = useWrite({
    send: () => take(api.POST('/api/v1/strings-reeds/plan/drop', { body: { instruments: onPlan } })),
    onSuccess: async () => {
      onDone()
      notice.show('The plan is off Today.')
      await refresh()
    },
    onError: (problem) => notice.show(problem.message),
  })
  return (
    <div className="no-print mt-4 flex flex-wrap items-center gap-3">
      {may && open.length > 0 && (
        <button className="btn btn-primary" disabled={accept.isPending} onClick={() => accept.mutate()}>
          Put this plan on Today: {count(open.length, 'string')}
        </button>
      )}
      {changes.length > 0 && open.length === 0 && <p>This plan stands on Today, each string on its day.</p>}
      {may && onPlan.length > 0 && (
        <button className="btn" disabled={drop.isPending} onClick={() => drop.mutate()}>
          Take {count(onPlan.length, 'instrument')} off the plan
        </button>
      )}
      <button className="btn" onClick={() => window.print()}>
        Print
      </button>
      <a className="link text-sm" href="/api/v1/calendar.ics" download>
        Calendar file
      </a>
      <span className="quiet text-sm">dot: change · wave: settling · bar: minutes played in</span>
    </div>
  )
}
