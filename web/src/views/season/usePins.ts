import { useRef, useState } from 'react'
import { Problem, queryClient, type Schemas } from '../../api/client'
import { seasonQuery } from '../../api/queries'
import type { Note } from './notes'

type Pins = Record<string, number>

/** A note on its way to a week: it is shown there until the planner has answered. */
export type Move = { key: string; week: number }

/**
 * Weeks that were chosen by hand. A move is tried before it stands, and what cannot be is refused in words. Moves wait for
 * each other, since each is tried on what the one before it left.
 */
export function usePins(ask: (pins: Pins) => Schemas['Planning']) {
  const [pins, setPins] = useState<Pins>({})
  const [trying, setTrying] = useState<Move>()
  const [refused, setRefused] = useState<string>()
  const latest = useRef<Pins>({})
  const turn = useRef(Promise.resolve())
  const stand = (next: Pins) => {
    latest.current = next
    setPins(next)
  }
  const move = (note: Note, week: number) => {
    const mine = { key: note.key, week }
    setTrying(mine)
    setRefused(undefined)
    turn.current = turn.current.then(async () => {
      const next = { ...latest.current, ...Object.fromEntries(note.pieces.map((p) => [p.id, week])) }
      try {
        await queryClient.fetchQuery(seasonQuery(ask(next)))
        stand(next)
      } catch (problem) {
        const fields = problem instanceof Problem ? Object.values(problem.fields) : []
        setRefused(fields[0] ?? (problem as Error).message)
      }
      setTrying((now) => (now === mine ? undefined : now))
    })
  }
  const free = (note: Note) =>
    stand(Object.fromEntries(Object.entries(latest.current).filter(([id]) => !note.pieces.some((p) => p.id === id))))
  return { pins, trying, refused, move, free, clear: () => stand({}) }
}
