import { count } from '../../words'
import type { Schemas } from '../../api/client'

export type Piece = Schemas['Piece']
export type Score = Schemas['Score']

/** A note with its pieces at hand. */
export type Note = Omit<Schemas['Note'], 'pieces'> & { pieces: Piece[] }

export function notesOf(score: Score | undefined): Note[] {
  if (!score) return []
  return score.notes.map((note) => ({
    ...note,
    pieces: note.pieces.flatMap((n) => score.pieces[n] ?? []),
  }))
}

/** "VN-12 and 7 more". */
export function tagsOf(note: Note) {
  const [first, ...others] = note.pieces.map((p) => p.tag)
  if (others.length === 0) return first ?? ''
  if (others.length === 1) return `${first ?? ''} and ${others[0] ?? ''}`
  return `${first ?? ''} and ${String(others.length)} more`
}

/** What a plan is weighed by is money and lateness in one number, and no bill. */
export const units = (cents: number) => count(Math.round(cents / 100), 'unit')
