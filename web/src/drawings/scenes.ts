import { box, circle, line, tubing, type Shape, type Stroke } from './shape'

// Pairs of right and wrong for drills, by the scene of a mistake in the catalogue. A box of 200 by 120; what matters is drawn heavy.

const room: Shape['box'] = [-100, -60, 200, 120]
const heavy = (d: string) => line(d, { heavy: true })

/** A hand that holds something at a place, from below. */
const hand = (x: number, y: number): Stroke[] => [
  {
    d: `M${x - 11} ${y + 26}V${y + 2}q0 -5 4 -5t4 5v-8q0 -5 4 -5t4 5v2q0 -4 3.500 -4t3.500 4v4q0 -4 3 -4t3 4V${y + 26}`,
  },
]

/** A case from the side, its lid open or shut. */
const shut = [box(-80, 0, 160, 34), box(-80, -18, 160, 18), line('M-14 -18v-8h28v8')]
const open = [box(-80, 10, 160, 30), { d: 'M-80 10L-58 -46H96L80 10z' }]
const latch = (x: number, closed: boolean) => (closed ? heavy(`M${x} -6v14`) : heavy(`M${x} 2l10 -14`))
const mouthpiece = { d: 'M-70 20L20 -14H70V20z' }
const bell = tubing([
  [-60, 30, 14],
  [-10, 30, 16],
  [20, 10, 20],
  [26, -20, 34],
  [28, -44, 80],
])

const pairs: Record<string, [right: Stroke[], wrong: Stroke[]]> = {
  grip: [
    [box(-90, -8, 180, 16), ...[-20, 0, 20, 40].map((x) => circle(x, 0, 7)), line('M-30 -14H52'), ...hand(-70, 8)],
    [
      box(-90, -8, 180, 16),
      ...[-20, 0, 20, 40].map((x) => circle(x, 0, 7)),
      heavy('M-30 -14Q10 4 52 -14'),
      ...hand(10, -6),
    ],
  ],
  bow: [
    [heavy('M-90 4C-30 16 30 16 86 6'), line('M-90 14H86'), box(66, 6, 22, 12)],
    [heavy('M-90 -14C-30 -18 30 -18 86 -12'), line('M-90 22H86'), box(66, -4, 22, 26)],
  ],
  hair: [
    [heavy('M-90 -14C-30 2 30 2 86 -10'), line('M-90 14H70'), box(60, -10, 26, 24), ...hand(74, 14)],
    [heavy('M-90 -14C-30 2 30 2 86 -10'), line('M-90 14H70'), box(60, -10, 26, 24), ...hand(-20, 14)],
  ],
  'reed-tip': [
    [{ d: 'M-80 0L70 -12V12L-80 2z' }, line('M-10 -6V8'), ...hand(56, 8)],
    [{ d: 'M-80 0L70 -12V12L-80 2z' }, line('M-10 -6V8'), ...hand(-74, 2)],
  ],
  'reed-on': [
    [mouthpiece, box(-86, 34, 60, 16), line('M-80 42h48'), box(-86, 34, 60, 16)],
    [mouthpiece, { d: 'M-74 22L24 22V30H-74z' }, box(-10, -10, 22, 42)],
  ],
  joint: [
    [box(-90, -12, 90, 24), box(8, -9, 82, 18), line('M-4 -30q12 -12 24 0M20 -30l0 -8M20 -30l-8 0')],
    [
      box(-90, -12, 90, 24),
      { d: 'M6 -2L86 -34L92 -18L12 16z' },
      heavy('M60 -48v-10M60 -58l-6 8M60 -58l6 8M76 2v12M76 14l-6 -8M76 14l6 -8'),
    ],
  ],
  swab: [
    [
      box(-60, -12, 120, 24),
      { d: 'M60 -8q20 0 24 18t8 30q-14 2 -18 -16t-14 -24z' },
      heavy('M-52 0H40M40 0l-10 -7M40 0l-10 7'),
    ],
    [
      box(-60, -12, 120, 24),
      { d: 'M-60 -8q-20 0 -24 18t-8 30q14 2 18 -16t14 -24z' },
      heavy('M40 0H-40M-40 0l10 -7M-40 0l10 7'),
    ],
  ],
  lid: [
    [...open, box(-60, 18, 110, 10)],
    [
      box(-80, 10, 160, 30),
      { d: 'M-80 10L-74 -12H88L80 10z' },
      box(-20, -2, 60, 12),
      ...hand(0, -44),
      heavy('M0 -12v8'),
    ],
  ],
  latch: [
    [...shut, latch(-50, true), latch(50, true)],
    [...shut, latch(-50, true), latch(50, false)],
  ],
  'damp-swab': [
    [...shut, latch(-50, true), { d: 'M-92 -50h30v24q-8 6 -15 0t-15 0z' }],
    [...open, box(-60, 22, 60, 10), { d: 'M16 14h40v16q-10 8 -20 0t-20 0z' }, heavy('M24 34v3M36 36v3M48 34v3')],
  ],
  drink: [
    [{ d: 'M-20 -40L-14 44H14L20 -40z' }, line('M-17 0H17'), line('M-60 -20q8 -12 16 0q0 10 -8 10t-8 -10z')],
    [{ d: 'M-20 -40L-14 44H14L20 -40z' }, heavy('M-17 -20H17M-16 -8H16M-16 4H16'), line('M4 -40L14 -58H26')],
  ],
  upside: [
    [...open, box(-60, 18, 110, 10)],
    [{ d: 'M-80 -10L-58 46H96L80 -10z' }, box(-80, -40, 160, 30), heavy('M-30 20L-10 50M10 16L36 44')],
  ],
  neck: [
    [
      tubing([
        [-70, 10, 14],
        [-20, -20, 16],
        [30, 0, 20],
        [40, 40, 22],
      ]),
      box(-90, 2, 26, 18),
      ...hand(-48, 4),
    ],
    [
      tubing([
        [-70, 10, 14],
        [-20, -20, 16],
        [30, 0, 20],
        [40, 40, 22],
      ]),
      box(-90, 2, 26, 18),
      ...hand(40, 40),
      heavy('M-76 -40v26M-76 -14l-8 -10M-76 -14l8 -10'),
    ],
  ],
  slap: [
    [
      box(-90, -6, 90, 12),
      { d: 'M0 -12h40l20 -10h14v44h-14l-20 -10h-40z' },
      line('M30 -34q14 -12 28 0M58 -34v-9M58 -34h-9'),
    ],
    [
      box(-90, -6, 90, 12),
      { d: 'M0 -12h40l20 -10h14v44h-14l-20 -10h-40z' },
      { d: 'M92 -30q8 30 0 60l-10 -6v-48z' },
      heavy('M98 -50H80M98 50H80'),
    ],
  ],
  slide: [
    [
      line('M-80 -14H60q20 0 20 14t-20 14H-80', { heavy: true }),
      box(-86, -22, 14, 44),
      heavy('M-64 -14V14'),
      ...hand(20, 14),
    ],
    [
      line('M-80 -14H60q20 0 20 14t-20 14H-80', { heavy: true }),
      box(-86, -22, 14, 44),
      heavy('M20 34v20M20 54l-8 -8M20 54l8 -8'),
    ],
  ],
  music: [
    [...shut, latch(-50, true), { d: 'M-30 -58h40v34h-40z' }, line('M-24 -48h28M-24 -40h28')],
    [
      box(-80, 10, 160, 30),
      { d: 'M-80 10L-76 -22H84L80 10z' },
      box(-70, -6, 130, 8),
      line('M-60 -2H40'),
      box(-60, 18, 110, 12),
    ],
  ],
  bell: [
    [
      box(-80, -6, 160, 12),
      heavy('M-60 6L-70 54M60 6L70 54'),
      tubing([
        [-40, -14, 12],
        [0, -14, 14],
        [30, -24, 22],
        [46, -40, 50],
      ]),
    ],
    [{ ...bell, move: 'rotate(180)' }, line('M-90 46H90')],
  ],
  table: [
    [
      { d: 'M-60 -20C-60 -34 60 -34 60 -20C60 -6 -60 -6 -60 -20z' },
      { d: 'M-60 -20V30C-60 46 60 46 60 30V-20C60 -6 -60 -6 -60 -20z' },
    ],
    [
      { d: 'M-60 -20C-60 -34 60 -34 60 -20C60 -6 -60 -6 -60 -20z' },
      { d: 'M-60 -20V30C-60 46 60 46 60 30V-20C60 -6 -60 -6 -60 -20z' },
      box(-30, -38, 50, 14),
      { d: 'M26 -52h20v24h-20z' },
    ],
  ],
  chair: [
    [{ d: 'M-70 50V-50M-70 0H10V50', open: true, heavy: true }, box(30, 24, 60, 26)],
    [
      { d: 'M-70 50V-50M-70 0H10V50', open: true, heavy: true },
      { d: 'M-40 -6q-14 -10 -2 -18q8 -6 16 0q12 -8 22 0q10 10 -4 18z' },
      box(6, -16, 30, 5),
    ],
  ],
  rest: [
    [...shut, latch(-50, true), latch(50, true), line('M-40 -44q40 -18 80 0', { heavy: true })],
    [
      box(-80, 10, 160, 30),
      { d: 'M-80 10L-72 -20H90L80 10z' },
      line('M-40 4q40 -20 80 0', { heavy: true }),
      heavy('M0 -50v22M0 -28l-8 -9M0 -28l8 -9'),
    ],
  ],
  endpin: [
    [{ d: 'M-70 0q10 -34 50 -26q30 6 60 -6q40 4 40 32q0 28 -40 32q-30 -12 -60 -6q-40 8 -50 -26z' }, line('M-98 44H98')],
    [
      { d: 'M-60 0q10 -34 50 -26q30 6 60 -6q40 4 40 32q0 28 -40 32q-30 -12 -60 -6q-40 8 -50 -26z' },
      heavy('M90 0H99M-60 0H-98'),
      line('M-98 44H98'),
    ],
  ],
}

export const scenes: Record<string, Shape> = Object.fromEntries(
  Object.entries(pairs).flatMap(([name, [right, wrong]]) => [
    [`${name}-right`, { box: room, strokes: right }],
    [`${name}-wrong`, { box: room, strokes: wrong }],
  ]),
)
