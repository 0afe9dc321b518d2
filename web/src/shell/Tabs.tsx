import type { KeyboardEvent, ReactNode } from 'react'

type Props<Key extends string> = {
  /** Names the tabs and their panel within the page. */
  id: string
  label: string
  pages: readonly (readonly [Key, ReactNode])[]
  at: Key
  onChoose: (page: Key) => void
  className?: string
}

/** The pages of a view, one of which is shown in its TabPanel: chosen by a press, or by arrows, Home and End. */
export function Tabs<Key extends string>({ id, label, pages, at, onChoose, className = '' }: Props<Key>) {
  const onKey = (e: KeyboardEvent) => {
    const here = pages.findIndex(([key]) => key === at)
    const next = { ArrowRight: here + 1, ArrowLeft: here - 1 + pages.length, Home: 0, End: pages.length - 1 }[e.key]
    const page = next === undefined ? undefined : pages[next % pages.length]
    if (!page) return
    e.preventDefault()
    e.stopPropagation()
    onChoose(page[0])
    document.getElementById(`${id}-${page[0]}`)?.focus()
  }
  return (
    <div role="tablist" aria-label={label} className={`no-print flex gap-1.5 ${className}`} onKeyDown={onKey}>
      {pages.map(([key, name]) => (
        <button
          key={key}
          id={`${id}-${key}`}
          role="tab"
          aria-selected={key === at}
          aria-controls={`${id}-page`}
          tabIndex={key === at ? 0 : -1}
          className={`btn btn-sm ${key === at ? 'btn-primary' : 'btn-outline btn-primary'}`}
          onClick={() => onChoose(key)}
        >
          {name}
        </button>
      ))}
    </div>
  )
}

/** What the chosen tab shows. It has no box of its own, so that it stands in any layout. */
export function TabPanel({ of, at, children }: { of: string; at: string; children: ReactNode }) {
  return (
    <div role="tabpanel" className="contents" id={`${of}-page`} aria-labelledby={`${of}-${at}`}>
      {children}
    </div>
  )
}
