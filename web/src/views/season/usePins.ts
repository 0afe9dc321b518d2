import { useState } from 'react'
import { Problem, queryClient, type Schemas } from '../../api/client'
import { seasonQuery } from '../../api/queries'
import type { Note } from './notes'
import { pinning, type Pinned, type Pins } from './pins'

const words = (problem: unknown) =>
  (problem instanceof Problem ? Object.values(problem.fields)[0] : undefined) ?? (problem as Error).message

/** Weeks that were chosen by hand, each tried by the planner. */
export function usePins(ask: (pins: Pins) => Schemas['Planning']) {
  const [now, setNow] = useState<Pinned>({ pins: {}, trying: undefined, refused: undefined })
  const [hand] = useState(() => pinning(setNow, words))
  const move = (note: Note, week: number) =>
    void hand.move(note, week, (pins) => queryClient.fetchQuery(seasonQuery(ask(pins))))
  return { ...now, ...hand, move }
}
