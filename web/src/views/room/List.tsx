import { useVirtualizer } from '@tanstack/react-virtual'
import { ArrowDown, ArrowUp } from 'lucide-react'
import { useEffect, useMemo, useRef, useState } from 'react'
import { Link } from 'react-router'
import type { Schemas } from '../../api/client'
import { useHeader } from '../../api/queries'
import { useWords } from '../../api/words'
import { usePrinting } from '../../shell/printing'
import { Mark } from '../../marks/Mark'
import { away, daysBetween } from '../../words'
import type { Shown } from './shown'

type Listed = Schemas['Listed']

/** What a column shows first when it is sorted by. */
const sortsBy = (words: Schemas['Words']) => ({
  mark: (i: Listed) => String(words.marks.findIndex((m) => m.key === i.mark)),
  tag: (i: Listed) => i.tag,
  kind: null, // score order, as it comes
  maker: (i: Listed) => `${i.maker} ${i.model}`,
  slot: (i: Listed) => `${i.room} ${i.slot}`,
  grade: (i: Listed) => String(words.grades.length - words.grades.findIndex((g) => g.key === i.grade)),
  next: (i: Listed) => i.next_on ?? '9999',
})
type Column = keyof ReturnType<typeof sortsBy>

const columns: [Column, string, string][] = [
  ['mark', 'Mark', ''],
  ['tag', 'Tag', ''],
  ['kind', 'Kind', ''],
  ['maker', 'Maker', 'hidden md:flex print:flex'],
  ['slot', 'Slot', ''],
  ['grade', 'Grade', 'hidden md:flex print:flex'],
  ['next', 'Next work', 'hidden md:flex print:flex'],
]

const grid =
  'grid grid-cols-[24px_30px_62px_1fr_60px] items-center gap-x-2 md:grid-cols-[24px_30px_64px_170px_minmax(0,1fr)_64px_110px_minmax(0,1.6fr)] print:grid-cols-[0_30px_54px_110px_minmax(0,1fr)_46px_64px_minmax(0,1.6fr)]'

/** Columns, sorted as you like. Only the rows in sight are drawn. */
export function List({ rows, shown }: { rows: Listed[]; shown: Shown }) {
  const { data: header } = useHeader()
  const [by, setBy] = useState<{ column: Column; down: boolean }>({ column: 'kind', down: true })
  const words = useWords()
  const box = useRef<HTMLDivElement>(null)
  const printing = usePrinting()
  const sorted = useMemo(() => {
    const key = sortsBy(words)[by.column]
    const list = key ? [...rows].sort((a, b) => key(a).localeCompare(key(b), undefined, { numeric: true })) : [...rows]
    return by.down ? list : list.reverse()
  }, [rows, by, words])
  // eslint-disable-next-line react-hooks/incompatible-library -- the virtualizer keeps its own state; nothing here is memoized on it
  const virtual = useVirtualizer({
    count: sorted.length,
    getScrollElement: () => box.current,
    estimateSize: () => 36,
    overscan: printing ? sorted.length : 12,
  })
  const { setOrder } = shown
  useEffect(() => setOrder(sorted), [sorted, setOrder])
  const at = sorted.findIndex((i) => i.id === shown.here)
  useEffect(() => {
    if (at >= 0) virtual.scrollToIndex(at)
  }, [at, virtual])

  return (
    <div
      role="table"
      aria-label="Instruments"
      aria-rowcount={sorted.length}
      className="mt-2 flex min-h-0 flex-1 flex-col"
    >
      <div role="row" className={`${grid} border-b-2 border-base-content pb-1 text-sm`}>
        <span role="columnheader">
          <span className="sr-only">Selected</span>
        </span>
        {columns.map(([column, name, hide]) => (
          <button
            key={column}
            role="columnheader"
            aria-sort={by.column === column ? (by.down ? 'ascending' : 'descending') : 'none'}
            className={`flex cursor-pointer items-center gap-0.5 font-bold ${hide}`}
            onClick={() => setBy({ column, down: by.column === column ? !by.down : true })}
          >
            <span className={column === 'mark' ? 'sr-only' : ''}>{name}</span>
            {by.column === column &&
              (by.down ? <ArrowDown size={13} aria-hidden /> : <ArrowUp size={13} aria-hidden />)}
          </button>
        ))}
      </div>
      <div ref={box} className="min-h-64 flex-1 overflow-y-auto" tabIndex={0} role="rowgroup">
        <div className="as-rows relative" style={{ height: virtual.getTotalSize() }}>
          {virtual.getVirtualItems().map((item) => {
            const i = sorted[item.index]
            if (!i) return null
            return (
              <div
                key={i.id}
                role="row"
                aria-rowindex={item.index + 1}
                aria-current={i.id === shown.here}
                className={`line absolute inset-x-0 top-0 ${grid} ${i.id === shown.here ? 'bg-base-200' : ''}`}
                style={{ height: item.size, transform: `translateY(${String(item.start)}px)` }}
              >
                <span role="cell" className="justify-self-center">
                  <input
                    type="checkbox"
                    className="checkbox block checkbox-xs"
                    aria-label={`Select ${i.tag}`}
                    checked={shown.selected.has(i.id)}
                    onChange={() => shown.toggle(i.id)}
                  />
                </span>
                <span role="cell">
                  <Mark name={i.mark} className="h-6" />
                </span>
                <span role="cell">
                  <Link to={`/instruments/${i.id}`} className="font-bold tracking-wide">
                    {i.tag}
                  </Link>
                </span>
                <span role="cell" className="truncate">
                  {i.kind_name} {i.size}
                </span>
                <span role="cell" className="quiet hidden truncate md:block print:block">
                  {i.maker} {i.model}
                </span>
                <span role="cell" className="quiet">
                  {i.slot}
                </span>
                <span
                  role="cell"
                  className={`hidden truncate text-sm md:block print:block ${i.grade === 'concert' ? 'quiet' : ''}`}
                >
                  {words.gradeShort(i.grade)}
                </span>
                <span role="cell" className="hidden truncate text-sm md:block print:block">
                  {i.stopped ? (
                    <b className="text-error">{i.stopped}</b>
                  ) : (
                    <>
                      {i.next}{' '}
                      {i.next_on && header && (
                        <span className={i.late > 0 ? 'text-error' : i.due > 0 ? 'text-warning' : 'quiet'}>
                          {away(daysBetween(header.today, i.next_on))}
                        </span>
                      )}
                    </>
                  )}
                </span>
              </div>
            )
          })}
        </div>
      </div>
    </div>
  )
}
