import { svgPathProperties } from 'svg-path-properties'
import { expect, test } from 'vitest'
import { brass } from './brass'
import { percussion } from './percussion'
import spots from './spots.json'
import { strings } from './strings'
import { woodwind } from './woodwind'

// Paper shows the same drawings as the screen: their outlines as chains of points, x and y in turn, are kept for whoever writes PDF.
// `npm run outlines` writes them anew after a drawing has changed.
test('the outlines kept for paper are those of the drawings', async () => {
  const kept = Object.entries({ ...woodwind, ...brass, ...percussion, ...strings }).map(([name, shape]) => {
    const turn = ((shape.turn ?? 0) * Math.PI) / 180
    const placed = (x: number, y: number) =>
      [x * Math.cos(turn) - y * Math.sin(turn), x * Math.sin(turn) + y * Math.cos(turn)].map(
        (v) => Math.round(v * 10) / 10,
      )
    const strokes = shape.strokes
      .filter((s) => !s.fine)
      .flatMap((s) => new svgPathProperties(s.d).getParts())
      .filter((part) => part.length > 0.01)
      .map((part) => {
        const pieces = Math.abs(part.getTangentAtLength(0).x - part.getTangentAtLength(part.length).x) < 1e-6 ? 1 : 8
        return Array.from({ length: pieces + 1 }, (_, n) => part.getPointAtLength((part.length * n) / pieces)).flatMap(
          (p) => placed(p.x, p.y),
        )
      })
    const own = (spots as unknown as Record<string, Record<string, [number, number]>>)[name] ?? {}
    const lines = strokes.map((s) => `      ${JSON.stringify(s)}`).join(',\n')
    const places = JSON.stringify(Object.fromEntries(Object.entries(own).map(([spot, [x, y]]) => [spot, placed(x, y)])))
    return `  ${JSON.stringify(name)}: {\n    "strokes": [\n${lines}\n    ],\n    "spots": ${places}\n  }`
  })
  expect(kept.length).toBeGreaterThan(15)
  await expect(`{\n${kept.join(',\n')}\n}\n`).toMatchFileSnapshot('../../../internal/formats/outlines.json')
})
