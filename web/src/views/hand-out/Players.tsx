import { useMemo, useState } from 'react'
import { Link, useSearchParams } from 'react-router'
import type { Schemas } from '../../api/client'
import { useInstruments, useMay, usePlayers } from '../../api/queries'
import { count, nearDay } from '../../words'
import { Many } from './Many'
import { PlayerForm } from './PlayerForm'

type Player = Schemas['ListedPlayer']

/** All players: what they hold, what fits, and who will outgrow it when. */
export function Players() {
  const { data: players, error } = usePlayers()
  const may = useMay('change instruments')
  const [params] = useSearchParams()
  const wantedFor = params.get('for') ?? '' // an instrument that is to be handed out
  const { data: instruments } = useInstruments()
  const instrument = instruments?.find((i) => i.id === wantedFor)
  const [words, setWords] = useState('')
  const [selected, setSelected] = useState<ReadonlySet<string>>(new Set())
  const [opened, setOpen] = useState<string>()
  const ofCard = players?.find((p) => p.card === params.get('card'))?.id
  const open = opened ?? ofCard
  const shown = useMemo(() => {
    const wanted = words.toLowerCase().split(/\s+/)
    return (players ?? []).filter((p) => {
      if (ofCard) return p.id === ofCard
      if (instrument && (p.left_on || (p.kind !== '' && p.kind !== instrument.kind))) return false
      const text =
        `${p.name} ${p.grade_year} ${p.kind_name} ${p.ensemble_names.join(' ')} ${p.holds.map((h) => h.tag).join(' ')}`.toLowerCase()
      return wanted.every((w) => text.includes(w))
    })
  }, [players, words, instrument, ofCard])
  if (error && !players) return <p role="alert">{error.message}</p>
  if (!players) return <p className="quiet">Calling the roll…</p>
  return (
    <>
      {instrument && (
        <p className="mb-2">
          <b>
            {instrument.tag}, {instrument.kind_name} {instrument.size}
          </b>
          : choose who gets it.
        </p>
      )}
      <div className="flex flex-wrap items-center gap-3">
        <span className="quiet">{count(players.filter((p) => !p.left_on).length, 'player')}</span>
        <input
          type="search"
          className="input input-sm w-52"
          placeholder="Name, year, instrument…"
          aria-label="Find a player"
          value={words}
          onChange={(e) => setWords(e.currentTarget.value)}
        />
        {may && !instrument && shown.length > 0 && (
          <button className="because" onClick={() => setSelected(new Set(shown.map((p) => p.id)))}>
            select {words ? 'these' : 'all'} {shown.length}
          </button>
        )}
        {may && (
          <button className="btn btn-primary btn-sm ml-auto" onClick={() => setOpen('new')}>
            Add a player
          </button>
        )}
      </div>
      {selected.size > 0 && (
        <Many players={players.filter((p) => selected.has(p.id))} onDone={() => setSelected(new Set())} />
      )}
      {open === 'new' && <PlayerForm player={undefined} onClose={() => setOpen(undefined)} />}
      <ul className="mt-2">
        {shown.map((p) => (
          <li key={p.id} className={`line py-1 ${p.left_on ? 'quiet' : ''}`}>
            <div className="grid grid-cols-[1fr_auto] items-center gap-x-3 sm:grid-cols-[210px_50px_150px_1fr_1fr_auto]">
              <label className="flex items-center gap-2">
                {may && !instrument && (
                  <input
                    type="checkbox"
                    className="checkbox checkbox-xs"
                    aria-label={`Select ${p.name}`}
                    checked={selected.has(p.id)}
                    onChange={() => {
                      const next = new Set(selected)
                      if (!next.delete(p.id)) next.add(p.id)
                      setSelected(next)
                    }}
                  />
                )}
                <b>{p.name}</b>
              </label>
              <span className="quiet hidden sm:block">{p.grade_year}</span>
              <span className="hidden sm:block">{p.kind_name}</span>
              <span className="col-span-2 sm:col-span-1">
                {p.holds.map((h) => (
                  <Link
                    key={h.tag}
                    to={`/instruments/${h.instrument_id}`}
                    className={`mr-2 font-bold tracking-wide ${h.stopped ? 'text-error' : ''}`}
                  >
                    {h.tag}
                  </Link>
                ))}
                {p.holds.length === 0 && !p.left_on && p.kind && <span className="text-warning">waits for one</span>}
                {p.left_on && ` left ${nearDay(p.left_on)}`}
              </span>
              <span className="quiet col-span-2 text-sm max-sm:empty:hidden sm:col-span-1">{growthOf(p)}</span>
              {may && instrument && (
                <Link
                  className="btn btn-outline btn-primary btn-sm max-sm:col-start-2 max-sm:row-start-1"
                  aria-label={`Hand out to ${p.name}`}
                  to={`/hand-out/${instrument.id}/to/${p.id}`}
                >
                  Hand out
                </Link>
              )}
              {may && !instrument && (
                <button
                  className="because max-sm:col-start-2 max-sm:row-start-1"
                  aria-label={`Change ${p.name}`}
                  aria-expanded={open === p.id}
                  onClick={() => setOpen(open === p.id ? undefined : p.id)}
                >
                  change
                </button>
              )}
            </div>
            {open === p.id && <PlayerForm player={p} onClose={() => setOpen(undefined)} />}
          </li>
        ))}
      </ul>
      {shown.length === 0 &&
        (players.length > 0 ? (
          <p className="quiet mt-3">Nobody is called that.</p>
        ) : (
          <p className="quiet mt-3">
            Nobody is here yet.{' '}
            <Link className="link" to="/hand-out/roster">
              Bring in a list of players
            </Link>
            , or add them one by one.
          </p>
        ))}
    </>
  )
}

function growthOf(p: Player) {
  if (!p.size) return ''
  const next = p.size.next_on ? `, ${p.size.next} about ${nearDay(p.size.next_on)} ${p.size.next_on.slice(0, 4)}` : ''
  return `fits ${p.size.size}${next}`
}
