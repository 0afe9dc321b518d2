import { expect, test } from 'vitest'
import type { Note } from './notes'
import { pinning, type Pinned } from './pins'

const note = (key: string) => ({ key, pieces: [{ id: key }] }) as Note
const words = (e: unknown) => (e as Error).message

function hand() {
  let now: Pinned | undefined
  return {
    now: () => now,
    ...pinning((next) => {
      now = next
    }, words),
  }
}

/** A planner that answers when it is told to. */
function planner() {
  const asked: { pins: Record<string, number>; answer: (e?: Error) => void }[] = []
  const tryOut = (pins: Record<string, number>) =>
    new Promise<void>((good, bad) => {
      asked.push({
        pins,
        answer: (e) => {
          if (e) bad(e)
          else good()
        },
      })
    })
  return { asked, tryOut }
}

const soon = () => new Promise((go) => setTimeout(go))

test('a move stands when the planner has answered, and the next is tried on it', async () => {
  const h = hand()
  const p = planner()
  void h.move(note('a'), 3, p.tryOut)
  const second = h.move(note('b'), 5, p.tryOut)
  await soon()
  expect(h.now()?.pins).toEqual({})
  p.asked[0]?.answer()
  await soon()
  expect(p.asked[1]?.pins).toEqual({ a: 3, b: 5 })
  p.asked[1]?.answer(new Error('Too full.'))
  await second
  expect(h.now()).toEqual({ pins: { a: 3 }, trying: undefined, refused: 'Too full.' })
})

test('what is taken back while a move is tried stays taken back', async () => {
  const h = hand()
  const p = planner()
  const moved = h.move(note('a'), 3, p.tryOut)
  await soon()
  h.clear()
  p.asked[0]?.answer()
  await moved
  expect(h.now()).toEqual({ pins: {}, trying: undefined, refused: undefined })
})

test('a note that is freed while it is tried is not pinned, and the others are', async () => {
  const h = hand()
  const p = planner()
  void h.move(note('a'), 3, p.tryOut)
  const second = h.move(note('b'), 5, p.tryOut)
  await soon()
  h.free(note('a'))
  p.asked[0]?.answer()
  await soon()
  p.asked[1]?.answer()
  await second
  expect(h.now()?.pins).toEqual({ b: 5 })
})
