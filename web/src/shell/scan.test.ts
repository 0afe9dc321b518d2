import { expect, test } from 'vitest'
import { Scan } from './scan'

/** What comes of keys with the pauses before each; the last pause is the one before Enter. */
function typed(text: string, ...pauses: number[]) {
  const scan = new Scan()
  let at = 1000
  ;[...text].forEach((character, n) => {
    at += pauses[n] ?? 0
    scan.key(character, at)
  })
  return scan.enter(at + (pauses[text.length] ?? 0))
}

test.each([
  ['a scanner', [0, 5, 5, 5, 5, 5], 'TR-02'],
  ['one that holds the second key back for a while', [0, 90, 5, 5, 5, 5], 'TR-02'],
  ['a quick typist', [0, 70, 70, 70, 70, 70], ''],
  ['a scanner after somebody stopped typing', [0, 400, 5, 5, 5, 5], 'R-02'],
  ['keys and a late Enter', [0, 5, 5, 5, 5, 500], ''],
])('%s', (_, pauses, expected) => {
  expect(typed('TR-02', ...pauses)).toBe(expected)
})

test('two keys are no tag, and each Enter begins anew', () => {
  const scan = new Scan()
  scan.key('a', 0)
  scan.key('b', 5)
  expect(scan.enter(10)).toBe('')
  for (const c of 'VN-1') scan.key(c, 15)
  expect(scan.enter(20)).toBe('VN-1')
  expect(scan.enter(25)).toBe('')
})
