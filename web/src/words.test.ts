import { afterEach, describe, expect, test } from 'vitest'
import amounts from '../../internal/core/money/testdata/amounts.json'
import { units } from './views/supplies/units'
import {
  away,
  centsOf,
  clockTime,
  count,
  daysBetween,
  inText,
  moment,
  money,
  readable,
  typedCents,
  writeAs,
} from './words'

test.each([
  [0, 'today'],
  [1, 'tomorrow'],
  [-1, 'yesterday'],
  [20, 'in 20 days'],
  [-21, '3 weeks ago'],
  [120, 'in 4 months'],
  [-730, '2 years ago'],
])('%i days away is %s', (days, words) => expect(away(days)).toBe(words))

describe('amounts as they are typed', () => {
  const places: Record<string, number> = { JPY: 0, KWD: 3 }
  afterEach(() => {
    writeAs('en-GB', 'EUR', 2, 'UTC')
  })
  test.each(amounts)('$typed $currency', (a) => {
    writeAs('en-GB', a.currency, places[a.currency] ?? 2, 'UTC')
    if (a.typed !== '') expect(centsOf(a.typed)).toBe(a.cents ?? NaN)
    if (a.refused && a.typed !== '') expect(readable(a.typed)).toContain(a.refused)
  })
  test.each([
    ['EUR', 2],
    ['JPY', 0],
    ['KWD', 3],
  ])('of %s stand there again as they were meant', (currency, decimals) => {
    writeAs('en-GB', currency, decimals, 'UTC')
    for (const cents of [0, 5, 1000, 1999, 1250000]) expect(centsOf(typedCents(cents))).toBe(cents)
  })
  test('nothing typed is nothing', () => expect(centsOf(' ')).toBeNull())
  test('yen have no fraction', () => {
    writeAs('en-GB', 'JPY', 0, 'UTC')
    expect(money(1250)).toBe('JP¥1,250')
  })
})

test('times are those of the school, wherever the browser is', () => {
  writeAs('en-GB', 'EUR', 2, 'Asia/Tokyo')
  expect(clockTime('2026-11-24T23:30:00Z')).toBe('08:30')
  expect(moment('2026-11-24T23:30:00Z')).toBe('25 Nov 2026')
  writeAs('en-GB', 'EUR', 2, 'UTC')
})

test('days are counted over the change of the clocks', () => expect(daysBetween('2026-03-28', '2026-03-30')).toBe(2))

test.each([
  [1, 'patch', '1 patch'],
  [3, 'patch', '3 patches'],
  [2.04, 'bottle', '2 bottles'],
  [0, 'reed', '0 reeds'],
])('%d %s', (n, unit, words) => expect(units(n, unit)).toBe(words))

test('a thousand has its mark', () => expect(count(1200, 'instrument')).toBe('1,200 instruments'))

test('names in a sentence', () => {
  expect(inText('Bass clarinet')).toBe('bass clarinet')
  expect(inText('B-flat clarinet')).toBe('B-flat clarinet')
})
