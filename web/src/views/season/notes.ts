// How the pieces of a season become the notes of its score: what is the same work in one section and one week is one note.
import type { Schemas } from '../../api/client'

export type Piece = Schemas['Piece']
export type Score = Schemas['Score']

export type Note = {
  key: string
  staff: number
  week: number
  title: string
  place: Piece['place']
  pieces: Piece[]
  /** Before it is due, when it is, or after. */
  when: 'early' | 'due' | 'late'
  pinned: boolean
  /** Until which week the last of them is back. */
  back: number
}

const when = (p: Piece) =>
  p.week === null ? 'due' : p.week > Math.max(p.due, 0) ? 'late' : p.week < p.due ? 'early' : 'due'

/** The notes of a score, by staff and week; what waits beyond the season is left out. */
export function notesOf(pieces: Piece[]): Note[] {
  const notes = new Map<string, Note>()
  for (const p of pieces) {
    if (p.week === null) continue
    const key = [p.staff, p.week, p.place, p.title].join('|')
    const note = notes.get(key)
    const back = p.week + p.weeks_out - 1
    if (!note) {
      const { staff, week, title, place, pinned } = p
      notes.set(key, { key, staff, week, title, place, pieces: [p], when: when(p), pinned, back })
      continue
    }
    note.pieces.push(p)
    note.pinned ||= p.pinned
    note.back = Math.max(note.back, back)
    if (when(p) === 'late' || (when(p) === 'due' && note.when === 'early')) note.when = when(p)
  }
  return [...notes.values()].sort((a, b) => a.staff - b.staff || a.week - b.week || a.title.localeCompare(b.title))
}

/** "VN-12 and 7 more". */
export function tagsOf(note: Note) {
  const [first, ...others] = note.pieces.map((p) => p.tag)
  if (others.length === 0) return first ?? ''
  if (others.length === 1) return `${first ?? ''} and ${others[0] ?? ''}`
  return `${first ?? ''} and ${String(others.length)} more`
}

/** The weeks in which all pieces of a note may begin. */
export function weeksFor(note: Note): [first: number, last: number] {
  return [Math.max(...note.pieces.map((p) => p.opens)), Math.min(...note.pieces.map((p) => p.last))]
}
