import { TriangleAlert } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'react-router'
import type { Schemas } from '../../api/client'
import { newFinish, useFinish, useOnTheWay } from '../../api/finish'
import { useMay, useRounds } from '../../api/queries'
import { Mark, markOf } from '../../marks/Mark'
import { useKeys } from '../../shell/keys'
import { useNotice } from '../../shell/notice'
import { Unsaved } from '../../shell/Unsaved'
import { count } from '../../words'

type Round = Schemas['Round']
type Task = Schemas['Task']

const idOf = (t: Pick<Task, 'instrument_id' | 'routine' | 'part'>) => `${t.instrument_id}/${t.routine}/${t.part}`

/** One task over many instruments: choose a round, then walk along the shelf. */
export function RoundsPage() {
  const { data: rounds, error } = useRounds()
  const [begun, setBegun] = useState<Round>()
  if (error) return <p role="alert">{error.message}</p>
  if (!rounds) return <p className="quiet mt-2">Gathering…</p>
  if (begun)
    return (
      <Walk
        begun={begun}
        open={rounds.find((r) => r.routine === begun.routine)?.tasks ?? []}
        onLeave={() => setBegun(undefined)}
      />
    )
  const many = rounds.filter((r) => r.tasks.length > 1)
  if (many.length === 0) return <p className="quiet mt-2">Nothing is due on two instruments at once.</p>
  return (
    <ul className="mt-2">
      {many.map((r) => (
        <li key={r.routine} className="line flex items-center gap-3 py-1.5">
          <b className="w-9 text-right text-lg">{r.tasks.length}</b>
          <span className="min-w-0 flex-1">
            {r.title}
            <span className="quiet block text-sm">
              {r.place}, {r.who}, {count(r.minutes + r.setup_minutes, 'minute')}: {tagsOf(r)}
            </span>
          </span>
          <button
            className="btn btn-outline btn-primary btn-sm"
            aria-label={`Begin the round: ${r.title}`}
            onClick={() => setBegun(r)}
          >
            Begin
          </button>
        </li>
      ))}
    </ul>
  )
}

function tagsOf(r: Round) {
  const tags = [...new Set(r.tasks.map((t) => t.tag))]
  return tags.length > 6 ? `${tags.slice(0, 5).join(' ')} and ${String(tags.length - 5)} more` : tags.join(' ')
}

/** The instruments in shelf order; d ticks the one you stand at and goes on. */
function Walk({ begun: round, open, onLeave }: { begun: Round; open: Task[]; onLeave: () => void }) {
  const may = useMay('finish care')
  const notice = useNotice()
  const begun = round.tasks
  const [passed, setPassed] = useState<ReadonlySet<string>>(new Set())
  const onTheWay = new Set(useOnTheWay().map(idOf))
  const finish = useFinish((result) => {
    notice.show(`${count(result.events.length, 'task')} done.`, result.events)
  })
  const stillOpen = new Set(open.map(idOf))
  const done = (t: Task) => !stillOpen.has(idOf(t)) || onTheWay.has(idOf(t))
  const here = begun.find((t) => !done(t) && !passed.has(idOf(t)))
  const ticked = begun.filter(done).length

  const tick = (t: Task | undefined) => {
    if (!t || !may) return
    finish.mutate(newFinish([{ instrument_id: t.instrument_id, routine: t.routine, part: t.part }]))
  }
  const pass = () => here && setPassed(new Set([...passed, idOf(here)]))
  useKeys({ d: () => tick(here), j: pass, Escape: onLeave })

  return (
    <section aria-label="Round">
      <div className="mt-2 flex flex-wrap items-baseline gap-x-3">
        <h2>{round.title}</h2>
        <span className="quiet text-sm">
          {ticked} of {begun.length} done. <kbd className="kbd kbd-xs">d</kbd> ticks off,{' '}
          <kbd className="kbd kbd-xs">j</kbd> passes by
        </span>
        <button className="btn btn-sm ml-auto" onClick={onLeave}>
          All rounds
        </button>
      </div>
      <progress className="progress progress-primary mt-1 w-full" value={ticked} max={begun.length} aria-label="Done" />
      {round.cautions.map((c) => (
        <p key={c} className="flex gap-1.5 py-0.5 text-sm">
          <TriangleAlert size={16} className="mt-0.5 shrink-0 text-error" aria-label="Caution" /> {c}
        </p>
      ))}
      {round.tools.length > 0 && <p className="quiet text-sm">You need: {round.tools.join(', ')}.</p>}
      <Unsaved finish={finish} />
      <ol className="mt-1">
        {begun.map((t) => (
          <li
            key={idOf(t)}
            aria-current={t === here}
            className={`line grid grid-cols-[22px_60px_1fr_auto] items-center gap-x-2 py-1 ${t === here ? 'bg-base-200' : ''} ${done(t) ? 'quiet' : ''}`}
          >
            <Mark name={done(t) ? 'ready' : markOf[t.state]} />
            <Link to={`/instruments/${t.instrument_id}`} className="font-bold tracking-wide">
              {t.tag}
            </Link>
            <span className="min-w-0 truncate">
              {t.slot && <b className="mr-2">{t.slot}</b>}
              {t.kind} {t.part_name}
            </span>
            {done(t) ? (
              <span className="text-sm">done</span>
            ) : (
              may && (
                <button
                  className="btn btn-outline btn-primary btn-sm"
                  aria-label={`Done: ${t.tag} ${t.part_name}`}
                  onClick={() => tick(t)}
                >
                  Done
                </button>
              )
            )}
          </li>
        ))}
      </ol>
      {!here && ticked === begun.length && <p className="mt-3">The round is done.</p>}
    </section>
  )
}
