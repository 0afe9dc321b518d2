import { useEffect, useState } from 'react'
import { flushSync } from 'react-dom'

/** Whether the page is being printed: then what is drawn only while it is in sight is drawn altogether. */
export function usePrinting() {
  const [printing, setPrinting] = useState(false)
  useEffect(() => {
    const begin = () => {
      flushSync(() => {
        setPrinting(true)
      })
    }
    const end = () => {
      setPrinting(false)
    }
    window.addEventListener('beforeprint', begin)
    window.addEventListener('afterprint', end)
    return () => {
      window.removeEventListener('beforeprint', begin)
      window.removeEventListener('afterprint', end)
    }
  }, [])
  return printing
}
