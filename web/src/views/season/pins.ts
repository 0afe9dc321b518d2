import type { Note } from './notes'

export type Pins = Record<string, number>

/** A note on its way to a week: it is shown there until the planner has answered. */
export type Move = { key: string; week: number }

export type Pinned = { pins: Pins; trying: Move | undefined; refused: string | undefined }

/**
 * Weeks that were chosen by hand. A move is tried before it stands, and what cannot be is refused in words. Moves wait for
 * each other, since each is tried on what the one before it left. What is taken back while a move is tried stays taken back.
 */
export function pinning(show: (now: Pinned) => void, words: (e: unknown) => string) {
  let now: Pinned = { pins: {}, trying: undefined, refused: undefined }
  let turn = Promise.resolve()
  let moves: Move[] = [] // that still count
  const set = (next: Partial<Pinned>) => {
    now = { ...now, ...next }
    show(now)
  }
  const without = (note: Note) =>
    Object.fromEntries(Object.entries(now.pins).filter(([id]) => !note.pieces.some((p) => p.id === id)))
  return {
    move(note: Note, week: number, tryOut: (pins: Pins) => Promise<unknown>) {
      const mine = { key: note.key, week }
      const chosen = Object.fromEntries(note.pieces.map((p) => [p.id, week]))
      moves.push(mine)
      set({ trying: mine, refused: undefined })
      turn = turn.then(async () => {
        if (moves.includes(mine)) {
          try {
            await tryOut({ ...now.pins, ...chosen })
            if (moves.includes(mine)) set({ pins: { ...now.pins, ...chosen } })
          } catch (problem) {
            if (moves.includes(mine)) set({ refused: words(problem) })
          }
        }
        moves = moves.filter((m) => m !== mine)
        if (now.trying === mine) set({ trying: undefined })
      })
      return turn
    },
    free(note: Note) {
      moves = moves.filter((m) => m.key !== note.key)
      set({ pins: without(note), trying: now.trying?.key === note.key ? undefined : now.trying })
    },
    clear() {
      moves = []
      set({ pins: {}, trying: undefined, refused: undefined })
    },
  }
}
