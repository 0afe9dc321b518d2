import { useMemo, useState } from 'react'
import { Link, useNavigate, useSearchParams } from 'react-router'
import { api, take, type Schemas } from '../../api/client'
import { refresh, useInstruments, useMay, useWalls } from '../../api/queries'
import { useWrite } from '../../api/write'
import { useKeys } from '../../shell/keys'
import { useNotice } from '../../shell/notice'
import { count } from '../../words'
import { TabPanel, Tabs } from '../../shell/Tabs'
import { Filters, fits, noFilter } from './Filters'
import { List } from './List'
import { movesTo } from './moving'
import { ScoreOrder } from './ScoreOrder'
import { SelectionBar } from './SelectionBar'
import type { Shown } from './shown'
import { Wall } from './Wall'

type Listed = Schemas['Listed']

const ways = [
  ['wall', 'Wall'],
  ['score', 'Score order'],
  ['list', 'List'],
] as const
type Way = (typeof ways)[number][0]

/** The storage rooms as they stand, or all instruments in score order, or as a list. */
export default function Room() {
  const { data: instruments, error } = useInstruments()
  const { data: walls } = useWalls()
  const may = useMay('change instruments')
  const [params, setParams] = useSearchParams()
  const way = ways.find(([w]) => w === params.get('as'))?.[0] ?? 'wall'
  const wall = walls?.find((w) => w.room === params.get('room')) ?? walls?.[0]
  const go = (change: { as?: Way; room?: string }) =>
    setParams({ as: way, room: wall?.room ?? '', ...change }, { replace: true })

  if (error) return <p role="alert">{error.message}</p>
  if (!instruments || !walls) return <p className="quiet">Looking along the racks…</p>
  if (instruments.length === 0)
    return (
      <section>
        <h1>Room</h1>
        <p className="mt-3">
          No instrument yet. Bring them in{' '}
          <Link className="link" to="/settings/instruments">
            from a spreadsheet
          </Link>{' '}
          or{' '}
          <Link className="link" to="/room/add">
            add the first one by hand
          </Link>
          .
        </p>
      </section>
    )
  return (
    <section className="flex h-[calc(100dvh-150px)] flex-col md:h-full">
      <div className="flex flex-wrap items-baseline gap-x-4 gap-y-1">
        {way === 'wall' && walls.length > 1 ? (
          <h1>
            <select
              className="field-sizing-content cursor-pointer border-b-2 border-primary bg-transparent"
              aria-label="Room"
              value={wall?.room}
              onChange={(e) => go({ room: e.currentTarget.value })}
            >
              {walls.map((w) => (
                <option key={w.room} value={w.room}>
                  {w.room || 'No room'}
                </option>
              ))}
            </select>
          </h1>
        ) : (
          <h1>{way === 'wall' ? wall?.room : 'All instruments'}</h1>
        )}
        <span className="quiet">
          {way === 'wall' && wall
            ? `${count(wall.slots, 'place')}: ${count(wall.here, 'instrument')} here, ${String(wall.out)} of this room with players`
            : count(instruments.length, 'instrument')}
        </span>
        <span className="ml-auto flex flex-wrap gap-1.5">
          <Tabs id="room" label="How to show them" pages={ways} at={way} onChoose={(as) => go({ as })} />
          <Link
            className="btn btn-outline btn-primary btn-sm ml-2"
            to={`/stocktake?room=${encodeURIComponent(wall?.room ?? '')}`}
          >
            Stocktake
          </Link>
          {may && (
            <Link className="btn btn-outline btn-primary btn-sm" to="/room/add">
              Add
            </Link>
          )}
        </span>
      </div>
      <TabPanel of="room" at={way}>
        <Shelves way={way} wall={wall} walls={walls} instruments={instruments} />
      </TabPanel>
    </section>
  )
}

type ShelvesProps = {
  way: Way
  wall: Schemas['Wall'] | undefined
  walls: Schemas['Wall'][]
  instruments: Listed[]
}

function Shelves({ way, wall, walls, instruments }: ShelvesProps) {
  const navigate = useNavigate()
  const [filter, setFilter] = useState(noFilter)
  const [selected, setSelected] = useState<ReadonlySet<string>>(new Set())
  const [here, setHere] = useState<string>()
  const [order, setOrder] = useState<Listed[]>([])
  const movable = useMay('change instruments')
  const move = useMove(() => setSelected(new Set()))
  const inView = useMemo(() => fits(filter), [filter])
  const byTag = useMemo(() => new Map(instruments.map((i) => [i.tag, i])), [instruments])
  const onWall = useMemo(
    () =>
      wall
        ? [...wall.shelves.flatMap((s) => s.places.flatMap((p) => p.tags)), ...wall.elsewhere].flatMap(
            (t) => byTag.get(t) ?? [],
          )
        : [],
    [wall, byTag],
  )
  const rows = useMemo(() => instruments.filter(inView), [instruments, inView])
  const walk = way === 'wall' ? onWall.filter(inView) : way === 'list' ? order : rows
  const toggle = (id: string) => {
    const next = new Set(selected)
    if (!next.delete(id)) next.add(id)
    setSelected(next)
  }
  const step = (by: number) => () => {
    const at = walk.findIndex((i) => i.id === here)
    setHere(walk[Math.max(0, Math.min(walk.length - 1, at + by))]?.id)
  }
  useKeys({
    j: step(1),
    k: step(-1),
    x: () => here && toggle(here),
    Enter: () => here && void navigate(`/instruments/${here}`),
    f: () => here && void navigate(`/instruments/${here}/diagnose`),
    Escape: () => setSelected(new Set()),
  })
  const selectAll = () => setSelected(new Set(rows.map((i) => i.id)))
  const shown: Shown = { inView, selected, here, movable, toggle, selectAll, setOrder }
  const drop = (id: string, slot: string) => {
    if (!wall) return
    const ids = selected.has(id) ? selected : new Set([id])
    const moves = movesTo(
      wall,
      slot,
      instruments.filter((i) => ids.has(i.id)),
      instruments,
    )
    if (moves.length > 0) move.mutate(moves)
  }
  return (
    <>
      <Filters all={way === 'wall' ? onWall : instruments} filter={filter} onChange={setFilter} />
      {selected.size > 0 && (
        <SelectionBar
          selected={instruments.filter((i) => selected.has(i.id))}
          walls={walls}
          all={instruments}
          onMove={movable ? (moves) => move.mutate(moves) : undefined}
          onClear={() => setSelected(new Set())}
        />
      )}
      {way === 'wall' && wall && wall.shelves.length === 0 && (
        <p className="mt-4">
          This room has no shelves yet.{' '}
          <Link className="link" to="/settings/rooms">
            Put them up in Settings
          </Link>
          ; until then its instruments stand below.
        </p>
      )}
      {way === 'wall' && wall && <Wall wall={wall} byTag={byTag} shown={shown} onDrop={drop} />}
      {way !== 'wall' && rows.length === 0 && (
        <p className="quiet mt-6">No instrument fits all of this. Take a filter away.</p>
      )}
      {way === 'score' && <ScoreOrder rows={rows} shown={shown} />}
      {way === 'list' && <List rows={rows} shown={shown} />}
    </>
  )
}

function useMove(done: () => void) {
  const notice = useNotice()
  return useWrite({
    send: (moves: Schemas['Move'][]) => take(api.POST('/api/v1/moves', { body: { moves } })),
    onSuccess: async (result, moves) => {
      done()
      notice.show(`${count(moves.length, 'instrument')} moved.`, result.events)
      await refresh()
    },
    onError: (problem) => notice.show(problem.message),
  })
}
