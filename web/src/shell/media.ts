import { useSyncExternalStore } from 'react'

/** Whether a media query holds, as the window changes. */
export function useMedia(query: string) {
  return useSyncExternalStore(
    (changed) => {
      const list = matchMedia(query)
      list.addEventListener('change', changed)
      return () => list.removeEventListener('change', changed)
    },
    () => matchMedia(query).matches,
  )
}
