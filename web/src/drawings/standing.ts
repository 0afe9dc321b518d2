// What stands in a room and is carried by two: pianos, keyboards, drum kits, cymbals, harps; and a frame drum for whatever has no drawing of
// its own. In the proportions of usual ones (from memory): an upright 1,500 wide and 1,250 high, a keyboard of five octaves 940, a kit with
// a bass drum of 560, a concert harp 1,850 high.
import { box, circle, line, type Shape, type Stroke } from './shape'

/** White keys from x on, each with its black neighbour but for those between E and F, B and C. */
function keys(x: number, y: number, count: number, wide: number, high: number): Stroke[] {
  const white = line(
    Array.from(
      { length: count - 1 },
      (_, i) => `M${(x + (i + 1) * wide).toFixed(1)} ${String(y)}v${String(high)}`,
    ).join(''),
    { fine: true, part: 'keys' },
  )
  const black = line(
    Array.from({ length: count - 1 }, (_, i) => i)
      .filter((i) => ![2, 6].includes(i % 7))
      .map((i) => `M${(x + (i + 1) * wide).toFixed(1)} ${String(y)}v${(high * 0.6).toFixed(1)}`)
      .join(''),
    { heavy: true, part: 'keys' },
  )
  return [box(x, y, count * wide, high, { part: 'keys' }), white, black]
}

/** A cymbal seen from the side, on its pole. */
const hung = (x: number, y: number, half: number): Stroke[] => [
  {
    d: `M${String(x - half)} ${String(y)}Q${String(x)} ${String(y - 12)} ${String(x + half)} ${String(y)}Q${String(x)} ${String(y + 5)} ${String(x - half)} ${String(y)}z`,
    part: 'cymbals',
  },
]

/** A drum seen from the front. */
const front = (x: number, y: number, w: number, h: number): Stroke[] => [
  box(x, y, w, h, { part: 'shell' }),
  box(x - 2, y - 5, w + 4, 5, { part: 'head' }),
  line(
    `M${String(x + w * 0.25)} ${String(y)}v${String(h * 0.8)}M${String(x + w * 0.75)} ${String(y)}v${String(h * 0.8)}`,
    {
      fine: true,
      part: 'lugs',
    },
  ),
]

/** Where a harp's string at x leaves the neck and where it meets the body. */
const neck = (x: number) => Math.min(-56, -84 + (x + 52) * 0.36)
const body = (x: number) => 78 - (x + 52) * 1.16

export const standing: Record<string, Shape> = {
  piano: {
    box: [-120, -110, 240, 220],
    strokes: [
      box(-100, -96, 200, 8, { part: 'body' }),
      box(-96, -88, 192, 96, { part: 'body' }),
      box(-58, -62, 116, 48, { fine: true, part: 'action' }),
      { d: 'M-104 8H104V30H-104z', part: 'body' },
      ...keys(-92, 10, 28, 6.57, 14),
      box(-92, 30, 184, 62, { part: 'body' }),
      line('M-92 30V98M92 30V98', { heavy: true, part: 'frame' }),
      line('M-16 84v10M0 84v10M16 84v10', { heavy: true, part: 'pedals' }),
      line('M-40 -56L-40 -20M-20 -58V-20M0 -58V-20M20 -58V-20M40 -56V-20', { fine: true, part: 'strings' }),
      circle(-92, 102, 4, { part: 'frame' }),
      circle(92, 102, 4, { part: 'frame' }),
    ],
    spots: {
      frame: [92, 98],
      body: [-80, -40],
      keys: [-40, 18],
      action: [48, -26],
      pedals: [0, 88],
      strings: [0, -44],
      sound: [80, -66],
    },
    hold: [
      [-100, 20],
      [100, 20],
    ],
  },
  keyboard: {
    box: [-130, -70, 260, 170],
    strokes: [
      { d: 'M-116 -34H116V16H-116z', part: 'body' },
      ...keys(-108, -16, 36, 6, 28),
      box(-20, -30, 40, 10, { fine: true, part: 'controls' }),
      line('M-100 -25h60M36 -25h24', { heavy: true, part: 'controls' }),
      circle(96, -25, 4, { fine: true, part: 'controls' }),
      line('M-60 16L60 88M60 16L-60 88M-76 88H-44M44 88H76M-72 16H-48M48 16H72', { heavy: true, part: 'frame' }),
      line('M-116 -20C-128 -20 -126 20 -112 40C-100 58 -112 74 -122 80', { part: 'electrics' }),
      box(-128, 80, 12, 8, { part: 'electrics' }),
    ],
    spots: {
      electrics: [-116, 36],
      keys: [-20, 0],
      controls: [0, -25],
      frame: [30, 70],
      body: [108, 6],
      sound: [90, -54],
    },
    hold: [
      [-116, 0],
      [116, 0],
    ],
  },
  'drum-kit': {
    box: [-130, -120, 260, 230],
    strokes: [
      line('M-92 -70V96M-104 98L-92 84L-80 98M92 -84V96M80 98L92 84L104 98', { part: 'frame' }),
      ...hung(-92, -72, 34),
      ...hung(92, -86, 34),
      circle(0, 46, 50, { part: 'shell' }),
      circle(0, 46, 43, { part: 'head' }),
      ...Array.from({ length: 8 }, (_, i) => {
        const a = (i * Math.PI) / 4 + Math.PI / 8
        const at = (r: number) => `${(Math.cos(a) * r).toFixed(1)} ${(Math.sin(a) * r + 46).toFixed(1)}`
        return line(`M${at(41)}L${at(53)}`, { heavy: true, part: 'lugs' })
      }),
      ...front(-50, -44, 44, 30),
      ...front(6, -44, 44, 30),
      line('M0 -14V-4', { heavy: true, part: 'frame' }),
      ...front(-100, 10, 42, 20),
      line('M-79 30V86M-94 96L-79 80L-64 96', { part: 'frame' }),
      box(-66, 12, 8, 14, { fine: true, part: 'snares' }),
      ...front(58, 16, 48, 58),
      line('M62 74V96M102 74V96', { part: 'frame' }),
      { d: 'M-8 92H8L12 104H-12z', part: 'pedal' },
      line('M-30 -70L10 -96M-6 -64L40 -88', { fine: true, part: 'beaters' }),
    ],
    spots: {
      frame: [92, 0],
      pedal: [0, 98],
      head: [-10, 40],
      snares: [-62, 20],
      lugs: [38, 66],
      cymbals: [92, -88],
      shell: [82, 46],
      beaters: [10, -92],
      sound: [-30, -106],
    },
    hold: [
      [-50, -30],
      [50, -30],
    ],
  },
  cymbals: {
    box: [-120, -100, 240, 205],
    strokes: [
      circle(-44, -10, 66, { part: 'cymbals' }),
      circle(-44, -10, 50, { fine: true, part: 'cymbals' }),
      circle(-44, -10, 34, { fine: true, part: 'cymbals' }),
      circle(-44, -10, 16, { part: 'cymbals' }),
      { d: 'M-50 -10C-60 -34 -28 -34 -38 -10z', part: 'straps' },
      line('M72 -44V92M50 98L72 76L94 98', { heavy: true, part: 'frame' }),
      { d: 'M22 -42Q72 -62 118 -42Q72 -34 22 -42z', part: 'cymbals' },
      box(68, -62, 8, 9, { part: 'straps' }),
    ],
    spots: {
      cymbals: [-100, 24],
      hole: [-44, -6],
      straps: [-44, -28],
      frame: [72, 40],
      sound: [40, -80],
    },
    hold: [
      [-110, -10],
      [22, -10],
    ],
  },
  harp: {
    box: [-110, -120, 220, 240],
    strokes: [
      { d: 'M-66 -90C-72 -100 -58 -106 -54 -94L-52 96H-66z', part: 'body' },
      {
        d: 'M-60 -94C-40 -118 -22 -84 6 -72C26 -64 38 -74 52 -84C58 -78 60 -70 56 -62C38 -48 20 -54 0 -62C-24 -72 -34 -98 -54 -82z',
        part: 'body',
      },
      { d: 'M58 -62L76 -50L-22 98L-52 92z', part: 'body' },
      { d: 'M-74 92H-14L-6 106H-80z', part: 'frame' },
      ...Array.from({ length: 12 }, (_, i) => {
        const x = -46 + i * 7.6
        return line(`M${x.toFixed(1)} ${neck(x).toFixed(1)}V${body(x).toFixed(1)}`, {
          fine: i % 2 === 1 || undefined,
          part: 'strings',
        })
      }),
      line('M-74 98l-12 6M-72 102l-10 8M-14 98l12 6M-16 102l10 8', { heavy: true, part: 'pedals' }),
      ...[-36, -14, 8, 30].map((x) => circle(x, neck(x) - 9, 2.4, { fine: true, part: 'pegs' })),
    ],
    spots: {
      frame: [-44, 100],
      top: [24, 14],
      pedals: [-82, 104],
      pegs: [8, -70],
      strings: [-22, -20],
      sound: [80, -86],
    },
    hold: [
      [-60, -20],
      [66, -56],
    ],
  },
  other: {
    box: [-110, -100, 220, 200],
    strokes: [
      circle(0, 0, 80, { part: 'body' }),
      circle(0, 0, 68, { fine: true, part: 'body' }),
      ...Array.from({ length: 5 }, (_, i) => {
        const a = (i * 2 * Math.PI) / 5 - Math.PI / 2
        return circle(Math.cos(a) * 74, Math.sin(a) * 74, 9, { part: 'fittings' })
      }),
    ],
    spots: {
      body: [0, 10],
      edges: [-60, -34],
      fittings: [44, 60],
      case: [-88, 80],
      sound: [86, -80],
    },
    hold: [
      [-80, 10],
      [80, 10],
    ],
  },
}
