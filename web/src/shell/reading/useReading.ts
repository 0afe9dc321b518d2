import { useRef, useState } from 'react'
import type { Schemas } from '../../api/client'

/** What a person said of a file, as the API takes it. */
export type Reading = {
  sheet?: string
  header_row?: number
  columns?: Record<string, string>
  day_order?: string
  decimal?: string
  restore_sizes?: boolean
  kinds?: Record<string, string>
}

export type AsRead = Schemas['AsRead']

/** A file and how it is to be read. Whatever is said is tried at once, and holds for the next file with the same columns. */
export function useReading(tryOut: (file: File, reading: Reading) => Promise<{ as_read: AsRead }>) {
  const [file, setFile] = useState<File>()
  const [reading, setReading] = useState<Reading>({})
  const header = useRef('')
  const say = async (file: File, reading: Reading) => {
    setFile(file)
    setReading(reading)
    // What went wrong is told by whoever sends.
    const as = await tryOut(file, reading).then(
      (report) => report.as_read,
      () => undefined,
    )
    return as?.columns.map((c) => c.theirs).join('\n') ?? ''
  }
  return {
    file,
    reading,
    choose: async (chosen: File) => {
      const before = header.current
      header.current = await say(chosen, {})
      if (before && before === header.current && Object.keys(reading).length > 0) await say(chosen, reading)
    },
    // Another sheet or header has other columns.
    change: async (part: Reading) => {
      if (!file) return
      const fresh = 'sheet' in part ? {} : 'header_row' in part ? { sheet: reading.sheet } : reading
      header.current = await say(file, { ...fresh, ...part })
    },
  }
}
