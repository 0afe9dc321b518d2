import { count } from '../../words'
import {
  getCoreRowModel,
  getSortedRowModel,
  useReactTable,
  type ColumnDef,
  type SortingFn,
} from '@tanstack/react-table'
import { useVirtualizer } from '@tanstack/react-virtual'
import { ArrowDown, ArrowUp } from 'lucide-react'
import { useEffect, useMemo, useRef, type ReactNode } from 'react'
import type { Schemas } from '../../api/client'
import { useHeader } from '../../api/queries'
import { useWords } from '../../api/words'
import { useMedia } from '../../shell/media'
import { usePrinting } from '../../shell/printing'
import { columnsOf, useChosen, type Column } from './columns'
import type { Shown } from './shown'

type Listed = Schemas['Listed']

const { compare } = new Intl.Collator(undefined, { numeric: true })
const asPeopleSort: SortingFn<Listed> = (a, b, column) => compare(a.getValue(column), b.getValue(column))

/** How a column is sorted: by what it says, those for which it says nothing last. */
const sortable = ({ key, by }: Column): ColumnDef<Listed> =>
  by
    ? { id: key, accessorFn: by, sortingFn: asPeopleSort, sortUndefined: 'last' }
    : { id: key, accessorFn: (_, place) => place, sortingFn: 'basic' }

/** The columns that somebody chose, sorted as they like. Only the rows in sight are drawn. */
export function List({ rows, shown }: { rows: Listed[]; shown: Shown }) {
  const { data: header } = useHeader()
  const words = useWords()
  const box = useRef<HTMLDivElement>(null)
  const printing = usePrinting()
  const narrow = useMedia('(width < 48rem)') && !printing
  const finger = useMedia('(pointer: coarse)')
  const { chosen, choose } = useChosen(narrow ? 'narrow' : 'wide')
  const all = useMemo(() => columnsOf(words, header?.today), [words, header?.today])
  const columns = all.filter((c, n) => n < 2 || chosen.includes(c.key))
  // eslint-disable-next-line react-hooks/incompatible-library -- table and virtualizer keep their own state; nothing here is memoized on it
  const table = useReactTable({
    data: rows,
    columns: useMemo(() => all.map(sortable), [all]),
    initialState: { sorting: [{ id: 'kind', desc: false }] },
    enableSortingRemoval: false,
    sortDescFirst: false,
    getCoreRowModel: getCoreRowModel(),
    getSortedRowModel: getSortedRowModel(),
  })
  const { rows: inOrder } = table.getSortedRowModel()
  const sorted = useMemo(() => inOrder.map((r) => r.original), [inOrder])
  const virtual = useVirtualizer({
    count: sorted.length,
    getScrollElement: () => box.current,
    estimateSize: () => (finger ? 44 : 36),
    overscan: printing ? sorted.length : 12,
  })
  const { setOrder } = shown
  useEffect(() => setOrder(sorted), [sorted, setOrder])
  const at = sorted.findIndex((i) => i.id === shown.here)
  useEffect(() => {
    if (at >= 0) virtual.scrollToIndex(at)
  }, [at, virtual])
  const track = (c: Column) => (printing ? (c.paper ?? c.width) : c.width)
  const grid = { gridTemplateColumns: [printing ? '0' : '24px', ...columns.map(track)].join(' ') }

  return (
    <>
      <div className="no-print relative mt-2 flex flex-wrap items-center gap-x-4 text-sm">
        <Chooser columns={all.slice(2)} chosen={chosen} choose={choose} />
        <Lists />
        <button className="because" onClick={shown.selectAll}>
          select all {count(rows.length, 'instrument')}
        </button>
      </div>
      <div
        role="table"
        aria-label="Instruments"
        aria-rowcount={sorted.length}
        className="mt-2 flex min-h-0 flex-1 flex-col"
      >
        <div role="row" style={grid} className="grid items-center gap-x-2 border-b-2 border-base-content pb-1 text-sm">
          <span role="columnheader">
            <span className="sr-only">Selected</span>
          </span>
          {columns.map(({ key, name }) => {
            const column = table.getColumn(key)
            const way = column?.getIsSorted()
            return (
              <button
                key={key}
                role="columnheader"
                aria-sort={way ? (way === 'asc' ? 'ascending' : 'descending') : 'none'}
                className="flex min-w-0 cursor-pointer items-center gap-0.5 text-left font-bold"
                onClick={() => column?.toggleSorting()}
              >
                <span className={key === 'mark' ? 'sr-only' : 'truncate'}>{name}</span>
                {way === 'asc' && <ArrowDown size={13} aria-hidden />}
                {way === 'desc' && <ArrowUp size={13} aria-hidden />}
              </button>
            )
          })}
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
                  className={`line absolute inset-x-0 top-0 grid items-center gap-x-2 ${i.id === shown.here ? 'bg-base-200' : ''}`}
                  style={{ ...grid, height: item.size, transform: `translateY(${String(item.start)}px)` }}
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
                  {columns.map((c) => (
                    <span key={c.key} role="cell" className={`truncate ${c.quiet ? 'quiet' : ''}`}>
                      {c.cell(i)}
                    </span>
                  ))}
                </div>
              )
            })}
          </div>
        </div>
      </div>
    </>
  )
}

/** Something folded away whose contents lie over the page. */
function Fold({ name, children }: { name: string; children: ReactNode }) {
  return (
    <details className="sm:relative">
      <summary className="cursor-pointer content-center">{name}</summary>
      <div className="absolute left-0 z-20 w-64 max-w-full sm:max-w-none rounded-box border border-base-300 bg-base-100 p-3">
        {children}
      </div>
    </details>
  )
}

function Chooser(props: { columns: Column[]; chosen: string[]; choose: (keys: string[]) => void }) {
  const { columns, chosen, choose } = props
  return (
    <Fold name="Columns">
      <fieldset className="grid gap-1">
        <legend className="sr-only">Columns to show</legend>
        {columns.map((c) => (
          <label key={c.key} className="flex cursor-pointer items-center gap-2">
            <input
              type="checkbox"
              className="checkbox checkbox-sm"
              checked={chosen.includes(c.key)}
              onChange={(e) => choose(e.currentTarget.checked ? [...chosen, c.key] : chosen.filter((k) => k !== c.key))}
            />
            {c.name}
          </label>
        ))}
      </fieldset>
    </Fold>
  )
}

const lists = [
  { path: 'who-has-what', name: 'Who has what' },
  { path: 'shelves', name: 'Shelf by shelf' },
  { path: 'sections', name: 'Section by section' },
]

/** The same instruments as lists to take along. */
function Lists() {
  return (
    <Fold name="Lists to take along">
      <ul className="grid gap-1">
        {lists.map(({ path, name }) => (
          <li key={path} className="flex items-center gap-3">
            <span className="mr-auto">{name}</span>
            <a className="link" href={`/api/v1/lists/${path}.xlsx`} download aria-label={`${name}, as a workbook`}>
              XLSX
            </a>
            <a className="link" href={`/api/v1/lists/${path}.csv`} download aria-label={`${name}, as CSV`}>
              CSV
            </a>
          </li>
        ))}
      </ul>
      <p className="quiet mt-2">Printed, this page has the rows and columns that you see.</p>
    </Fold>
  )
}
