// What a key does is brought up to date before the screen is painted: a fast hand may press again as soon as it sees.
import { useEffect, useLayoutEffect, useRef } from 'react'

/** Keys by name; a function that answers false did not want the key. */
export type Keys = Record<string, (e: KeyboardEvent) => unknown>

const typing = (target: EventTarget | null) =>
  target instanceof HTMLElement &&
  (target.isContentEditable ||
    target.matches('input:not([type=checkbox], [type=radio], [type=file]), textarea, select'))

/** Single keys while nobody is typing. Capitals are left to the hand scanner, which types tags in capitals. */
export function useKeys(keys: Keys) {
  const latest = useRef(keys)
  useLayoutEffect(() => {
    latest.current = keys
  })
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if (e.defaultPrevented || e.ctrlKey || e.metaKey || e.altKey || typing(e.target)) return
      if (e.key === 'Enter' && e.target instanceof HTMLElement && /^(BUTTON|A|SUMMARY)$/.test(e.target.tagName)) return
      if (document.querySelector('dialog[open]')) return
      const action = latest.current[e.key]
      if (action && action(e) !== false) e.preventDefault()
    }
    window.addEventListener('keydown', onKey)
    return () => {
      window.removeEventListener('keydown', onKey)
    }
  }, [])
}

let taker: { current: (text: string) => boolean } | null = null

/** Lets a view take scans before they open an instrument; it answers false for one that it does not want. */
export function useTakeScans(take: (text: string) => boolean) {
  const latest = useRef(take)
  useLayoutEffect(() => {
    latest.current = take
  })
  useEffect(() => {
    taker = latest
    return () => {
      taker = null
    }
  }, [])
}

/** A hand scanner is a very fast typist: a run of quick keys ended with Enter is a scan, wherever the cursor is. */
export function useScanner(scanned: (text: string) => boolean) {
  const latest = useRef(scanned)
  useLayoutEffect(() => {
    latest.current = scanned
  })
  useEffect(() => {
    let run = ''
    let last = 0
    const onKey = (e: KeyboardEvent) => {
      if (e.timeStamp - last > 40) run = ''
      last = e.timeStamp
      if (e.key.length === 1) run += e.key
      else if (e.key === 'Enter') {
        if (run.length >= 3 && (taker?.current(run.trim()) || latest.current(run.trim()))) {
          e.preventDefault()
          e.stopPropagation()
        }
        run = ''
      }
    }
    window.addEventListener('keydown', onKey, true)
    return () => {
      window.removeEventListener('keydown', onKey, true)
    }
  }, [])
}
