import { type Shape, type Stroke } from './shape'

/** A piece as it comes apart: the strokes between two places along the instrument, or of some parts, and where its middle lies in the case. */
type Piece = { from?: number; to?: number; parts?: string[]; not?: string[]; x: number; y: number; turn?: number }

/** A case from above, open: its inner width and height, and how the pieces lie in it. Lengths as in the drawing. */
type Case = { width: number; height: number; pieces: Piece[] }

// How the parts lie: common practice, no source.
const cases: Record<string, Case> = {
  piccolo: {
    width: 250,
    height: 90,
    pieces: [
      { from: -48, to: 170, x: 0, y: -18, turn: 180 },
      { from: -170, to: -48, x: 50, y: 22 },
    ],
  },
  flute: {
    width: 400,
    height: 120,
    pieces: [
      { from: -156, to: 182, x: 0, y: -26, turn: 180 },
      { from: -340, to: -156, x: 88, y: 26, turn: 180 },
      { from: 182, to: 340, x: -100, y: 26 },
    ],
  },
  oboe: {
    width: 330,
    height: 190,
    pieces: [
      { from: -249, to: -22, x: -10, y: -58 },
      { from: -22, to: 205, x: -10, y: 0 },
      { from: 199, to: 340, x: -70, y: 58 },
      { from: -340, to: -249, x: 90, y: 58 },
    ],
  },
  clarinet: {
    width: 350,
    height: 240,
    pieces: [
      { from: 2, to: 222, x: -20, y: -76 },
      { from: -203, to: 2, x: -20, y: -16 },
      { from: 222, to: 340, x: -90, y: 62 },
      { from: -252, to: -203, x: 20, y: 62 },
      { from: -340, to: -252, x: 110, y: 62 },
    ],
  },
  trumpet: {
    width: 560,
    height: 260,
    pieces: [
      { not: ['mouthpiece'], x: 20, y: -10 },
      { parts: ['mouthpiece'], x: -200, y: 94 },
    ],
  },
  cornet: {
    width: 440,
    height: 260,
    pieces: [
      { not: ['mouthpiece'], x: 20, y: -10 },
      { parts: ['mouthpiece'], x: -150, y: 94 },
    ],
  },
  trombone: {
    width: 960,
    height: 420,
    pieces: [
      { not: ['mouthpiece', 'hand-slide', 'water-keys'], x: -120, y: -70 },
      { parts: ['hand-slide', 'water-keys'], x: 20, y: 140, turn: 180 },
      { parts: ['mouthpiece'], x: 380, y: -120 },
    ],
  },
}

const first = (d: string) => Number(/^M(-?[\d.]+)/.exec(d)?.[1] ?? 0)

const taken = (s: Stroke, p: Piece) =>
  (!p.parts || p.parts.includes(s.part ?? '')) &&
  !p.not?.includes(s.part ?? '') &&
  (p.from === undefined || (first(s.d) >= p.from && first(s.d) < (p.to ?? Infinity)))

/** The middle of strokes, by the numbers of their paths that are places; good enough for where a piece lies. */
function centre(strokes: Stroke[], p: Piece): [number, number] {
  if (p.from !== undefined && p.to !== undefined) {
    const xs = strokes.map((s) => first(s.d))
    return [(Math.max(p.from, Math.min(...xs)) + p.to) / 2, 0]
  }
  const points = strokes.flatMap((s) =>
    [...s.d.matchAll(/[ML](-?[\d.]+) (-?[\d.]+)/g)].map((m) => [Number(m[1]), Number(m[2])]),
  )
  const mid = (axis: number) => {
    const list = points.map((q) => q[axis] as number)
    return (Math.min(...list) + Math.max(...list)) / 2
  }
  return points.length > 0 ? [mid(0), mid(1)] : [0, 0]
}

/** How an instrument lies in its case; nothing for one that is covered where it stands or lies in one piece. */
export function inCase(name: string, shape: Shape): Shape | undefined {
  const of = cases[name]
  if (!of) return undefined
  const { width, height } = of
  const strokes = of.pieces.flatMap((p) => {
    const own = shape.strokes.filter((s) => taken(s, p))
    const [cx, cy] = centre(own, p)
    return own.map((s) => ({
      ...s,
      move: `translate(${String(p.x)} ${String(p.y)}) rotate(${String(p.turn ?? 0)}) translate(${String(-cx)} ${String(-cy)})`,
    }))
  })
  const left = -width / 2
  const top = -height / 2
  return {
    box: [left - 12, top - 12, width + 24, height + 24],
    strokes: [
      { d: `M${String(left)} ${String(top)}h${String(width)}v${String(height)}h${String(-width)}z` },
      { d: `M-30 ${String(top + height)}v10h60v-10`, open: true },
      ...strokes,
    ],
  }
}
