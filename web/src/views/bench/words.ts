import type { Schemas } from '../../api/client'

/** Why an instrument is at the bench, in a word or two. */
export const reasonWords: Record<Schemas['OnBench']['reason'], string> = {
  turnover: 'next player',
  illness: 'illness',
  mould: 'mould',
  smoke: 'smoke',
  'deep clean': 'deep clean',
  concert: 'concert',
  laundry: 'laundry',
}

/** A stretch as "1 h 05 min". */
export const stretch = (minutes: number) =>
  minutes < 60
    ? `${String(minutes)} min`
    : `${String(Math.floor(minutes / 60))} h ${String(minutes % 60).padStart(2, '0')} min`

/** A running time as "4:09". */
export const running = (seconds: number) => {
  const s = Math.max(0, Math.ceil(seconds))
  return `${String(Math.floor(s / 60))}:${String(s % 60).padStart(2, '0')}`
}
