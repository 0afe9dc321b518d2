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
