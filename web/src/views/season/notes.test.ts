import { expect, test } from 'vitest'
import { notesOf, tagsOf, weeksFor, type Piece } from './notes'

const piece = (part: Partial<Piece>): Piece => ({
  id: 'x',
  instrument_id: 'i',
  tag: 'VN-01',
  staff: 0,
  title: 'Peg compound',
  parts: '',
  because: '',
  place: 'bench',
  opens: 0,
  due: 4,
  last: 9,
  minutes: 8,
  cents: 0,
  weeks_out: 1,
  week: 4,
  loaner: false,
  pinned: false,
  why: '',
  ...part,
})

test('the same work in one section and week is one note', () => {
  const notes = notesOf([
    piece({ tag: 'VN-01', opens: 1 }),
    piece({ tag: 'VN-02', last: 7, pinned: true }),
    piece({ tag: 'VN-03' }),
    piece({ tag: 'VN-04', week: 5 }),
    piece({ tag: 'VA-01', staff: 1 }),
    piece({ tag: 'VN-05', title: 'Hair', place: 'van', weeks_out: 3, due: 2 }),
    piece({ tag: 'VN-06', week: null }),
  ])
  expect(notes.map((n) => [n.staff, n.week, n.title, n.pieces.length])).toEqual([
    [0, 4, 'Hair', 1],
    [0, 4, 'Peg compound', 3],
    [0, 5, 'Peg compound', 1],
    [1, 4, 'Peg compound', 1],
  ])
  const pegs = notes[1]
  expect(pegs && tagsOf(pegs)).toBe('VN-01 and 2 more')
  expect(pegs && weeksFor(pegs)).toEqual([1, 7])
  expect(pegs?.pinned).toBe(true)
  expect([notes[0]?.when, notes[0]?.back, notes[2]?.when]).toEqual(['late', 6, 'late'])
})

test('a note is as late as the latest of it, and what was due before the season is late in any week', () => {
  expect(notesOf([piece({ due: 6 }), piece({ due: 4 })])[0]?.when).toBe('due')
  expect(notesOf([piece({ due: 6 }), piece({ due: 1 })])[0]?.when).toBe('late')
  expect(notesOf([piece({ due: -3, week: 0 })])[0]?.when).toBe('due')
})
