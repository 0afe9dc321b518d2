import { type Shape, type Stroke } from './shape'

/**
 * A piece as it comes apart: the strokes that begin between two places along x or y, or of some parts; and where the place that is its middle
 * lies in the case.
 */
type Piece = {
  from?: number
  to?: number
  top?: number
  bottom?: number
  parts?: string[]
  not?: string[]
  middle?: [number, number]
  x: number
  y: number
  turn?: number
}

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
      { from: -22, to: 199, x: -10, y: 0 },
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
  'bass-clarinet': {
    width: 900,
    height: 430,
    pieces: [
      {
        top: -409,
        bottom: -47,
        not: ['bell', 'floor-peg', 'mouthpiece', 'reed'],
        middle: [34, -234],
        x: -220,
        y: -140,
        turn: -90,
      },
      {
        top: -47,
        bottom: 400,
        not: ['bell', 'floor-peg', 'mouthpiece', 'reed'],
        middle: [34, 142],
        x: 220,
        y: -140,
        turn: -90,
      },
      { parts: ['bell'], middle: [-40, 370], x: -260, y: 70 },
      { parts: ['neck'], middle: [-20, -450], x: 20, y: 90 },
      { parts: ['mouthpiece', 'reed'], middle: [-128, -408], x: 190, y: 90 },
      { parts: ['floor-peg'], middle: [34, 482], x: 340, y: 90, turn: 90 },
    ],
  },
  bassoon: {
    width: 760,
    height: 540,
    pieces: [
      { top: -470, bottom: 216, to: 30, not: ['bell', 'bocal', 'reed'], middle: [0, -122], x: 0, y: -200, turn: 90 },
      { top: -470, bottom: 216, from: 30, not: ['bell', 'bocal', 'reed'], middle: [57, -15], x: 90, y: -110, turn: 90 },
      { top: 216, bottom: 700, not: ['bell', 'bocal', 'reed'], middle: [23, 446], x: 90, y: 0, turn: 90 },
      { parts: ['bell'], middle: [0, -570], x: -270, y: 0, turn: 90 },
      { parts: ['bocal'], middle: [160, -340], x: -60, y: 160 },
      { parts: ['reed'], middle: [300, -306], x: 180, y: 180 },
    ],
  },
  'alto-saxophone': {
    width: 700,
    height: 380,
    pieces: [
      { not: ['mouthpiece', 'reed', 'neck'], middle: [110, 50], x: 0, y: 30, turn: -90 },
      { parts: ['neck'], middle: [-40, -285], x: -180, y: -120 },
      { parts: ['mouthpiece', 'reed'], middle: [-150, -236], x: 60, y: -140 },
    ],
  },
  horn: {
    width: 600,
    height: 500,
    pieces: [
      { not: ['mouthpiece'], middle: [20, 20], x: 10, y: 0 },
      { parts: ['mouthpiece'], middle: [-216, -160], x: 240, y: -190 },
    ],
  },
  euphonium: {
    width: 860,
    height: 560,
    pieces: [
      { not: ['mouthpiece'], middle: [-50, 10], x: 0, y: 20, turn: 90 },
      { parts: ['mouthpiece'], middle: [178, -196], x: -330, y: -220 },
    ],
  },
  tuba: {
    width: 1160,
    height: 760,
    pieces: [
      { not: ['mouthpiece'], middle: [-80, 20], x: 0, y: 20, turn: 90 },
      { parts: ['mouthpiece'], middle: [225, -256], x: -480, y: -310 },
    ],
  },
  'tuba-rotary': {
    width: 1160,
    height: 760,
    pieces: [
      { not: ['mouthpiece'], middle: [-80, 20], x: 0, y: 20, turn: 90 },
      { parts: ['mouthpiece'], middle: [225, -256], x: -480, y: -310 },
    ],
  },
  violin: {
    width: 820,
    height: 300,
    pieces: [
      { not: ['bow-stick', 'bow-hair'], middle: [0, 60], x: -40, y: 30, turn: -90 },
      { parts: ['bow-stick', 'bow-hair'], middle: [146, 64], x: 0, y: -120, turn: -90 },
    ],
  },
  cello: {
    width: 1500,
    height: 620,
    pieces: [
      { not: ['bow-stick', 'bow-hair', 'endpin'], middle: [0, 160], x: -60, y: 60, turn: -90 },
      { parts: ['bow-stick', 'bow-hair'], middle: [276, 50], x: -40, y: -260, turn: -90 },
    ],
  },
  'clarinet-e-flat': {
    width: 270,
    height: 190,
    pieces: [
      { from: 1.4, to: 163, x: -15, y: -58 },
      { from: -150, to: 1.4, x: -15, y: -12 },
      { from: 163, to: 260, x: -70, y: 48 },
      { from: -186, to: -150, x: 15, y: 48 },
      { from: -260, to: -186, x: 82, y: 48 },
    ],
  },
  'english-horn': {
    width: 420,
    height: 260,
    pieces: [
      { from: -277, to: -10, x: -20, y: -84 },
      { from: -10, to: 257, x: -20, y: -24 },
      { from: 257, to: 410, x: -90, y: 66 },
      { from: -410, to: -277, x: 110, y: 66 },
    ],
  },
  'soprano-saxophone': {
    width: 680,
    height: 170,
    pieces: [
      { from: -229, to: 350, x: -10, y: 20 },
      { from: -270, to: -229, x: -190, y: -56 },
      { from: -350, to: -270, x: -90, y: -56 },
    ],
  },
  'tenor-saxophone': {
    width: 830,
    height: 440,
    pieces: [
      { not: ['mouthpiece', 'reed', 'neck'], middle: [130, 40], x: 0, y: 40, turn: -90 },
      { parts: ['neck'], middle: [-50, -330], x: -220, y: -140 },
      { parts: ['mouthpiece', 'reed'], middle: [-200, -260], x: 70, y: -160 },
    ],
  },
  'baritone-saxophone': {
    width: 1120,
    height: 520,
    pieces: [
      { not: ['mouthpiece', 'reed', 'neck'], middle: [150, 0], x: 0, y: 50, turn: -90 },
      { parts: ['neck'], middle: [-110, -384], x: -300, y: -190 },
      { parts: ['mouthpiece', 'reed'], middle: [-244, -334], x: 40, y: -190 },
    ],
  },
  sousaphone: {
    width: 1520,
    height: 1020,
    pieces: [
      { not: ['mouthpiece'], middle: [-20, -60], x: -20, y: 20, turn: 90 },
      { parts: ['mouthpiece'], middle: [-160, -160], x: -680, y: -430 },
    ],
  },
  'trombone-f': {
    width: 1000,
    height: 520,
    pieces: [
      { not: ['mouthpiece', 'hand-slide', 'water-keys'], x: -120, y: -70 },
      { parts: ['hand-slide', 'water-keys'], x: 20, y: 180, turn: 180 },
      { parts: ['mouthpiece'], x: 380, y: -140 },
    ],
  },
  viola: {
    width: 900,
    height: 330,
    pieces: [
      { not: ['bow-stick', 'bow-hair'], middle: [0, 68], x: -40, y: 34, turn: -90 },
      { parts: ['bow-stick', 'bow-hair'], middle: [166, 73], x: 0, y: -132, turn: -90 },
    ],
  },
  'double-bass': {
    width: 2080,
    height: 880,
    pieces: [
      { not: ['bow-stick', 'bow-hair', 'endpin'], middle: [0, 210], x: -60, y: 60, turn: -90 },
      { parts: ['bow-stick', 'bow-hair'], middle: [396, -60], x: -40, y: -380, turn: -90 },
    ],
  },
  recorder: {
    width: 250,
    height: 130,
    pieces: [
      { from: -41, to: 104, x: -20, y: -30 },
      { from: -170, to: -41, x: -40, y: 30 },
      { from: 104, to: 170, x: 80, y: 30 },
    ],
  },
  guitar: { width: 1180, height: 480, pieces: [{ middle: [0, -20], x: 0, y: 20, turn: -90 }] },
  ukulele: { width: 620, height: 260, pieces: [{ middle: [0, -10], x: 0, y: 10, turn: -90 }] },
  bow: { width: 820, height: 110, pieces: [{ x: 0, y: 0, middle: [0, 0] }] },
}

const begins = (d: string) => {
  const [, x = '0', y = '0'] = /^M(-?[\d.]+)[ ,]?(-?[\d.]+)?/.exec(d) ?? []
  return [Number(x), Number(y)] as const
}

function taken(s: Stroke, p: Piece) {
  const [x, y] = begins(s.d)
  return (
    (!p.parts || p.parts.includes(s.part ?? '')) &&
    !p.not?.includes(s.part ?? '') &&
    x >= (p.from ?? -Infinity) &&
    x < (p.to ?? Infinity) &&
    y >= (p.top ?? -Infinity) &&
    y < (p.bottom ?? Infinity)
  )
}

/** The middle of strokes, by the numbers of their paths that are places; good enough where none is named. */
function centre(strokes: Stroke[], p: Piece): [number, number] {
  if (p.middle) return p.middle
  if (p.from !== undefined && p.to !== undefined) {
    const xs = strokes.map((s) => begins(s.d)[0])
    return [(Math.max(p.from, Math.min(...xs)) + p.to) / 2, 0]
  }
  const points = strokes.flatMap((s) =>
    [...s.d.matchAll(/[ML](-?[\d.]+) (-?[\d.]+)/g)].map((m) => [Number(m[1]), Number(m[2])] as const),
  )
  const mid = (axis: 0 | 1) => {
    const list = points.map((q) => q[axis])
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
