import type { Schemas } from '../../api/client'

type Listed = Schemas['Listed']
type Move = Schemas['Move']

/** A move from where somebody sees an instrument: when it is not there any more, nothing is moved. */
const moveTo = (of: Listed, room: string, slot: string): Move => ({
  instrument_id: of.id,
  room,
  slot,
  from: { room: of.room, slot: of.slot },
})

/**
 * What moves when instruments are put into a room from a slot on: each into the next slot that is free or will be; one
 * put upon another changes places with it.
 */
export function movesTo(wall: Schemas['Wall'], slot: string, moved: Listed[], all: Listed[]): Move[] {
  const slots = wall.shelves.flatMap((s) => s.places)
  const from = slots.findIndex((p) => p.name === slot)
  const [only] = moved
  if (from < 0 || !only) return []
  const there = slots[from]?.tags[0]
  const other = all.find((i) => i.tag === there)
  if (moved.length === 1) {
    if (other?.id === only.id) return []
    const move = moveTo(only, wall.room, slot)
    return other ? [move, moveTo(other, only.room, only.slot)] : [move]
  }
  const tags = new Set(moved.map((i) => i.tag))
  const free = slots.slice(from).filter((p) => p.tags.every((t) => tags.has(t)))
  return moved.flatMap((i, n) => {
    const to = free[n]
    return to ? [moveTo(i, wall.room, to.name)] : []
  })
}
