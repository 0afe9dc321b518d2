// What a key does is brought up to date before the screen is painted: a fast hand may press again as soon as it sees.
import { useEffect, useLayoutEffect, useRef } from 'react'
import { Scan } from './scan'

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

/**
 * Takes what a hand scanner types, wherever the cursor is.
 * A box for tags (`takesTags`) is left alone: its form reads the whole of it, however slowly the scanner typed.
 */
export function useScanner(scanned: (text: string) => boolean) {
  const latest = useRef(scanned)
  useLayoutEffect(() => {
    latest.current = scanned
  })
  useEffect(() => {
    const scan = new Scan()
    const onKey = (e: KeyboardEvent) => {
      if (e.key.length === 1) scan.key(e.key, e.timeStamp)
      else if (e.key === 'Enter') {
        const text = scan.enter(e.timeStamp)
        if (!text || (e.target instanceof HTMLElement && e.target.matches('[data-takes-tags]'))) return
        if (taker?.current(text) || latest.current(text)) {
          e.preventDefault()
          e.stopPropagation()
        }
      }
    }
    window.addEventListener('keydown', onKey, true)
    return () => {
      window.removeEventListener('keydown', onKey, true)
    }
  }, [])
}

/** Marks a box whose form takes a tag at Enter. */
export const takesTags = { 'data-takes-tags': true }
