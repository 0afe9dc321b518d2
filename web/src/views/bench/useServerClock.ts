import { useEffect, useState } from 'react'

/** The server's time, counted on from when it was last read: a reader's own clock may be wrong. */
export function useServerClock(now: string | undefined, readAt: number) {
  const [elapsed, setElapsed] = useState(0)
  useEffect(() => {
    const timer = setInterval(() => {
      setElapsed(Date.now() - readAt)
    }, 500)
    return () => {
      clearInterval(timer)
      setElapsed(0)
    }
  }, [readAt])
  return now ? Date.parse(now) + Math.max(0, elapsed) : 0
}
