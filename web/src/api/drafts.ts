// What was noted of a hand-over or a return so far, kept in the browser until it is done, so that a closed page loses nothing.
import { useCallback, useState } from 'react'

const drawer = 'solfeggio-drafts/'

export function useDraft<T>(key: string, fresh: () => T) {
  const at = drawer + key
  const [draft, setDraft] = useState<T>(() => {
    try {
      return JSON.parse(localStorage.getItem(at) ?? 'null') ?? fresh()
    } catch {
      return fresh()
    }
  })
  const change = useCallback(
    (part: Partial<T>) =>
      setDraft((now) => {
        const next = { ...now, ...part }
        localStorage.setItem(at, JSON.stringify(next))
        return next
      }),
    [at],
  )
  const forget = useCallback(() => localStorage.removeItem(at), [at])
  return { draft, change, forget }
}

/** Nothing of players stays in the browser after signing out. */
export function forgetDrafts() {
  for (const key of Object.keys(localStorage)) if (key.startsWith(drawer)) localStorage.removeItem(key)
}
