import { describe, expect, test } from 'vitest'
import { units } from './views/supplies/units'
import { away, centsOf, count, daysBetween, inText, typedCents } from './words'

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
  test.each([
    ['', null],
    ['12', 1200],
    ['12,5', 1250],
    ['0.29', 29], // 0.29 × 100 is 28.999…
    ['1250.00', 125000],
    ['1,250', NaN],
    ['1,250.00', NaN],
    ['twelve', NaN],
  ])('%s', (text, cents) => expect(centsOf(text)).toBe(cents))
  test('stand there again as they were meant', () => expect(centsOf(typedCents(1999))).toBe(1999))
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
