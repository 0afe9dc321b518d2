import { expect, test } from 'vitest'
import type { Schemas } from '../../api/client'
import { movesTo } from './moving'

const instrument = (tag: string, room: string, slot: string) =>
  ({ id: `id ${tag}`, tag, room, slot }) as Schemas['Listed']

const violins = [
  instrument('VN-01', 'Store', 'A-01'),
  instrument('VN-02', 'Store', 'A-03'),
  instrument('VN-03', '', ''),
]
const [first, second, third] = violins as [Schemas['Listed'], Schemas['Listed'], Schemas['Listed']]
const wall = {
  room: 'Store',
  shelves: [
    {
      places: [
        { name: 'A-01', tags: ['VN-01'] },
        { name: 'A-02', tags: [] },
        { name: 'A-03', tags: ['VN-02'] },
      ],
    },
    { places: [{ name: 'B-01', tags: [] }] },
  ],
} as unknown as Schemas['Wall']

const moves = (slot: string, ...moved: Schemas['Listed'][]) =>
  movesTo(wall, slot, moved, violins).map((m) => `${m.instrument_id} ${m.room} ${m.slot}`)

test('into a free slot', () => expect(moves('A-02', first)).toEqual(['id VN-01 Store A-02']))

test('onto another, which changes places with it', () =>
  expect(moves('A-03', first)).toEqual(['id VN-01 Store A-03', 'id VN-02 Store A-01']))

test('onto itself, which is nothing', () => expect(moves('A-01', first)).toEqual([]))

test('one that stood nowhere sends the other there', () =>
  expect(moves('A-01', third)).toEqual(['id VN-03 Store A-01', 'id VN-01  ']))

test('several fill what is free or will be, over the end of the shelf', () =>
  expect(moves('A-02', second, first, third)).toEqual([
    'id VN-02 Store A-02',
    'id VN-01 Store A-03',
    'id VN-03 Store B-01',
  ]))

test('more than there is room for stay where they are', () =>
  expect(moves('B-01', first, second)).toEqual(['id VN-01 Store B-01']))

test('a slot that the room does not have', () => expect(moves('Z-09', first)).toEqual([]))
