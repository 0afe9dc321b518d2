import { useVirtualizer } from '@tanstack/react-virtual'
import { useMemo, useRef, useState } from 'react'
import { Link, useNavigate } from 'react-router'
import type { Schemas } from '../../api/client'
import { useHeader, useInstruments } from '../../api/queries'
import { Mark, markOf, markWords } from '../../marks/Mark'
import { useKeys } from '../../shell/keys'
import { away, count, daysBetween } from '../../words'

type Listed = Schemas['Listed']
type Row = { section: string; many: number } | Listed

const states = ['late', 'due', 'opening', 'fresh'] as const

/** All instruments in score order, found by section, mark and words. */
export default function Room() {
  const { data: instruments, error } = useInstruments()
  const [words, setWords] = useState('')
  const [section, setSection] = useState('')
  const [state, setState] = useState<Listed['state'] | ''>('')

  const sections = useMemo(() => [...new Set(instruments?.map((i) => i.section))], [instruments])
  const inView = useMemo(() => {
    const wanted = words.toLowerCase().split(/\s+/)
    return (instruments ?? []).filter((i) => {
      const text =
        `${i.tag} ${i.kind_name} ${i.size} ${i.maker} ${i.model} ${i.room} ${i.slot} ${i.ensembles.join(' ')}`.toLowerCase()
      return (
        (!section || i.section === section) && (!state || i.state === state) && wanted.every((w) => text.includes(w))
      )
    })
  }, [instruments, words, section, state])

  if (error) return <p role="alert">{error.message}</p>
  if (!instruments) return <p className="quiet">Looking along the racks…</p>
  if (instruments.length === 0)
    return (
      <section>
        <h1>Room</h1>
        <p className="mt-3">
          No instrument yet.{' '}
          <Link className="link" to="/settings/instruments">
            Bring them in from a CSV file.
          </Link>
        </p>
      </section>
    )
  return (
    <section className="flex h-full flex-col">
      <div className="flex flex-wrap items-baseline gap-x-4 gap-y-2">
        <h1>Room</h1>
        <span className="quiet">
          {inView.length === instruments.length
            ? count(instruments.length, 'instrument')
            : `${String(inView.length)} of ${count(instruments.length, 'instrument')}`}{' '}
          in score order
        </span>
        <div className="ml-auto flex flex-wrap items-center gap-2">
          <input
            type="search"
            className="input input-sm w-44"
            placeholder="Tag, maker, slot…"
            aria-label="Find in the room"
            value={words}
            onChange={(e) => setWords(e.currentTarget.value)}
          />
          <select
            className="select select-sm w-40"
            aria-label="Section"
            value={section}
            onChange={(e) => setSection(e.currentTarget.value)}
          >
            <option value="">All sections</option>
            {sections.map((s) => (
              <option key={s}>{s}</option>
            ))}
          </select>
        </div>
      </div>
      <div className="mt-2 flex flex-wrap gap-1.5" role="group" aria-label="Marks">
        {states.map((s) => {
          const n = instruments.filter((i) => i.state === s).length
          const on = state === s
          return (
            <button
              key={s}
              aria-pressed={on}
              className={`flex cursor-pointer items-center gap-1 rounded-md border py-0.5 pr-2.5 pl-1 text-sm ${on ? 'border-base-content bg-base-200' : 'border-base-300'}`}
              onClick={() => setState(on ? '' : s)}
            >
              <Mark name={markOf[s]} className="scale-80" /> {markWords[markOf[s]]} <b>{n}</b>
            </button>
          )
        })}
      </div>
      <List rows={inView} />
    </section>
  )
}

/** The rows, of which only those in sight are drawn. */
function List({ rows }: { rows: Listed[] }) {
  const navigate = useNavigate()
  const { data: header } = useHeader()
  const [at, setAt] = useState(0)
  const box = useRef<HTMLDivElement>(null)
  const withHeadings = useMemo(() => {
    const out: Row[] = []
    let last = ''
    for (const i of rows) {
      if (i.section !== last) {
        last = i.section
        out.push({ section: last, many: rows.filter((r) => r.section === last).length })
      }
      out.push(i)
    }
    return out
  }, [rows])
  // eslint-disable-next-line react-hooks/incompatible-library -- the virtualizer keeps its own state; nothing here is memoized on it
  const virtual = useVirtualizer({
    count: withHeadings.length,
    getScrollElement: () => box.current,
    estimateSize: (n) => ('tag' in (withHeadings[n] ?? {}) ? 38 : 40),
    overscan: 12,
  })
  const here = rows[Math.min(at, rows.length - 1)]
  const move = (by: number) => () => {
    const to = Math.max(0, Math.min(rows.length - 1, at + by))
    setAt(to)
    const row = rows[to]
    if (row) virtual.scrollToIndex(withHeadings.indexOf(row))
  }
  useKeys({
    j: move(1),
    k: move(-1),
    Enter: () => here && void navigate(`/instruments/${here.id}`),
  })
  if (rows.length === 0) return <p className="quiet mt-6">No instrument fits all of this. Take a filter away.</p>
  return (
    <div
      ref={box}
      className="mt-3 h-[70dvh] min-h-64 overflow-y-auto md:h-auto md:flex-1"
      tabIndex={0}
      role="region"
      aria-label="Instruments"
    >
      <div className="relative" style={{ height: virtual.getTotalSize() }} role="list">
        {virtual.getVirtualItems().map((item) => {
          const row = withHeadings[item.index]
          if (!row) return null
          const place = {
            position: 'absolute',
            top: 0,
            left: 0,
            right: 0,
            height: item.size,
            transform: `translateY(${String(item.start)}px)`,
          } as const
          if (!('tag' in row))
            return (
              <div key={row.section} role="listitem" style={place} className="flex items-end">
                <h2 className="flex-1 border-b-2 border-base-content pb-1">
                  {row.section} <span className="quiet ml-1 font-sans text-sm font-normal">{row.many}</span>
                </h2>
              </div>
            )
          return (
            <div
              key={row.id}
              role="listitem"
              style={place}
              aria-current={row.id === here?.id}
              className={`line flex items-center ${row.id === here?.id ? 'bg-base-200' : ''}`}
            >
              <Link
                to={`/instruments/${row.id}`}
                className="grid w-full grid-cols-[26px_64px_1fr_auto] items-center gap-x-2 md:grid-cols-[26px_64px_150px_minmax(0,1fr)_70px_130px_minmax(0,1.6fr)]"
              >
                <Mark name={markOf[row.state]} />
                <b className="tracking-wide">{row.tag}</b>
                <span className="truncate">
                  {row.kind_name} {row.size}
                </span>
                <span className="quiet hidden truncate md:block">
                  {row.maker} {row.model}
                </span>
                <span className="quiet text-right md:text-left">{row.slot}</span>
                <span className="hidden truncate md:block">
                  {row.ensembles.join(', ') || <span className="quiet">nobody</span>}
                </span>
                <span className="hidden truncate text-sm md:block">
                  {row.next}{' '}
                  {row.next_on && header && (
                    <span className={row.late > 0 ? 'text-error' : row.due > 0 ? 'text-warning' : 'quiet'}>
                      {away(daysBetween(header.today, row.next_on))}
                    </span>
                  )}
                </span>
              </Link>
            </div>
          )
        })}
      </div>
    </div>
  )
}
