import { useState } from 'react'
import type { Schemas } from '../../api/client'

/** What a person said of a file, as the API takes it. */
export type Reading = {
  sheet?: string
  header_row?: number
  columns?: Record<string, string>
  day_order?: string
  decimal?: string
  restore_sizes?: boolean
}

export type AsRead = Schemas['AsRead']

/** A file and how it is to be read. Whatever is said is tried at once; another file begins anew. */
export function useReading(tryOut: (file: File, reading: Reading) => void) {
  const [file, setFile] = useState<File>()
  const [reading, setReading] = useState<Reading>({})
  const say = (file: File, reading: Reading) => {
    setFile(file)
    setReading(reading)
    tryOut(file, reading)
  }
  return {
    file,
    reading,
    choose: (chosen: File) => say(chosen, {}),
    // Another sheet or header has other columns.
    change: (part: Reading) => {
      if (!file) return
      const fresh = 'sheet' in part ? {} : 'header_row' in part ? { sheet: reading.sheet } : reading
      say(file, { ...fresh, ...part })
    },
  }
}
