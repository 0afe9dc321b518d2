import { expect, test } from 'vitest'
import { chapters, search } from './chapters'

test('every chapter has its place, a title and something to say', () => {
  expect(chapters.map((c) => c.key)).toEqual(
    expect.arrayContaining(['today', 'room', 'hand-out', 'bench', 'season', 'settings', 'keys']),
  )
  for (const c of chapters) {
    expect(c.text.startsWith(`# ${c.title}\n`)).toBe(true)
    expect(c.text.length).toBeGreaterThan(300)
    expect(c.text, c.key).toContain('.png)') // its picture, which is built in
    expect(c.text, c.key).not.toContain('](../screenshots')
  }
})

test('all words must stand there, in any order and case', () => {
  expect(search('LOANER').map((c) => c.key)).toContain('today')
  expect(search('scanner card').map((c) => c.key)).toEqual(['hand-out', 'keys'])
  expect(search('workbook').find((c) => c.key === 'supplies')?.line).toContain('As a workbook')
  expect(search('xylorimba')).toEqual([])
  expect(search('')).toHaveLength(chapters.length)
})
