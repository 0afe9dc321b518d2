import { useIsMutating } from '@tanstack/react-query'
import { useEffect, useState } from 'react'

/** Says that an answer is waited for, once that takes longer than people wait without wondering. */
export function Waiting() {
  const busy = useIsMutating() > 0
  const [long, setLong] = useState(false)
  useEffect(() => {
    if (!busy) return
    const timer = setTimeout(() => setLong(true), 1500)
    return () => {
      clearTimeout(timer)
      setLong(false)
    }
  }, [busy])
  return (
    <p role="status" className="pointer-events-none fixed inset-x-0 top-1 z-40 flex justify-center">
      {busy && long && (
        <span className="rounded-md bg-base-300 px-3 py-1 text-sm">Sent; waiting for the server’s answer…</span>
      )}
    </p>
  )
}
