import { svgPathProperties } from 'svg-path-properties'
import { expect, test } from 'vitest'
import { drawings, instruments } from './drawings'
import { percussion } from './percussion'
import { type Stroke } from './shape'
import { standing } from './standing'

test('what has a case is drawn lying in it, each stroke once', () => {
  for (const [name, shape] of Object.entries(instruments).filter(
    ([name]) => !(name in percussion) && !(name in standing),
  )) {
    const lying = drawings[`${name}-case`]
    const pieces = lying?.strokes.filter((s) => s.move) ?? []
    expect(pieces.length, name).toBeGreaterThan(0)
    expect(new Set(pieces.map((s) => s.d)).size, name).toBe(pieces.length)
    expect(pieces.length / shape.strokes.length, name).toBeGreaterThan(0.8)
  }
})

// Paper shows the same drawings as the screen: their outlines as chains of points, x and y in turn, are kept for whoever
// writes PDF, and their paths for pages that the server writes.
// `npm run outlines` writes them anew after a drawing has changed.
test('the outlines kept for paper are those of the drawings', async () => {
  const kept = Object.entries(drawings).map(([name, shape]) => {
    const turn = ((shape.turn ?? 0) * Math.PI) / 180
    const placed = (x: number, y: number) =>
      [x * Math.cos(turn) - y * Math.sin(turn), x * Math.sin(turn) + y * Math.cos(turn)].map(
        (v) => Math.round(v * 10) / 10,
      )
    const chains = (fine: boolean) =>
      shape.strokes
        .filter((s) => Boolean(s.fine) === fine)
        .flatMap((s) => new svgPathProperties(s.d).getParts().map((part) => ({ part, moved: movedBy(s) })))
        .filter(({ part }) => part.length > 0.01)
        .map(({ part, moved }) => {
          const [from, to] = [part.getPointAtLength(0), part.getPointAtLength(part.length)]
          const straight = part.length - Math.hypot(to.x - from.x, to.y - from.y) < 1e-6
          const pieces = straight ? 1 : fine ? 5 : 8
          return Array.from({ length: pieces + 1 }, (_, n) =>
            part.getPointAtLength((part.length * n) / pieces),
          ).flatMap((p) => placed(...moved(p.x, p.y)))
        })
        .map((s) => `      ${JSON.stringify(s)}`)
        .join(',\n')
    const own = shape.spots ?? {}
    const places = JSON.stringify(Object.fromEntries(Object.entries(own).map(([spot, [x, y]]) => [spot, placed(x, y)])))
    const paths = shape.strokes.map(
      (s) =>
        `      ${JSON.stringify([s.d, s.move ?? '', s.part ?? '', s.heavy ? 'heavy' : s.fine ? 'fine' : '', s.open ? 'open' : ''])}`,
    )
    return `  ${JSON.stringify(name)}: {\n    "turn": ${String(shape.turn ?? 0)},\n    "box": ${JSON.stringify(shape.box)},\n    "paths": [\n${paths.join(',\n')}\n    ],\n    "strokes": [\n${chains(false)}\n    ],\n    "fine": [\n${chains(true)}\n    ],\n    "hold": ${JSON.stringify((shape.hold ?? []).map(([x, y]) => placed(x, y)))},\n    "spots": ${places}\n  }`
  })
  expect(kept.length).toBeGreaterThan(15)
  await expect(`{\n${kept.join(',\n')}\n}\n`).toMatchFileSnapshot('../../../internal/formats/outlines.json')
})

/** A stroke's own transform: translate, rotate, translate, as cases.ts writes it. */
function movedBy(s: Stroke): (x: number, y: number) => [number, number] {
  const [tx = 0, ty = 0, deg = 0, cx = 0, cy = 0] = [...(s.move ?? '').matchAll(/-?[\d.]+/g)].map(Number)
  if (!s.move) return (x, y) => [x, y]
  if (s.move.startsWith('rotate')) return (x, y) => rotated(x, y, tx)
  return (x, y) => {
    const [rx, ry] = rotated(x + cx, y + cy, deg)
    return [rx + tx, ry + ty]
  }
}

function rotated(x: number, y: number, degrees: number): [number, number] {
  const a = (degrees * Math.PI) / 180
  return [x * Math.cos(a) - y * Math.sin(a), x * Math.sin(a) + y * Math.cos(a)]
}
