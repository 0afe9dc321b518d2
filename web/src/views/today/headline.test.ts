import { expect, test } from 'vitest'
import { headline } from './headline'

const at = (days: number, on: string) => ({ next: { days, on } })
const tomorrow = at(1, '2026-11-25')
const monday = at(6, '2026-11-30')

test.each([
  [[at(0, '2026-11-24')], '1 player can’t play today'],
  [[tomorrow, tomorrow], '2 players can’t play tomorrow'],
  [[tomorrow, monday, monday], '1 player can’t play tomorrow, 2 on Monday'],
  [[monday, at(8, '2026-12-02')], '1 player can’t play on Monday, 1 in 8 days'],
  [[tomorrow, {}], '1 player can’t play tomorrow, 1 with no rehearsal in sight'],
])('%j', (list, words) => expect(headline(list)).toBe(words))

test.each([
  [[tomorrow], 0, '1 player can’t play tomorrow'],
  [[tomorrow], 1, '1 player can’t play tomorrow, 1 more says so, not looked at yet'],
  [[tomorrow, tomorrow], 2, '2 players can’t play tomorrow, 2 more say so, not looked at yet'],
  [[], 1, '1 player says that they can’t play, not looked at yet'],
])('%j and %i who say so', (list, said, words) => expect(headline(list, said)).toBe(words))
