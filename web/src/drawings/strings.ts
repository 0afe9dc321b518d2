import { circle, line, mirrored, sized, square, type Shape, type Stroke } from './shape'

// Measures in millimetres, from memory, of usual instruments; drawn from them and not after any maker's. Violin 590 long, its body 356 and 168,
// 112, 208 wide; viola 670, its body 405; cello 1230, body 755 and 340, 230, 440; double bass 1800, body 1110 and 510, 370, 680; bow 745; guitar 1000,
// its body 490 and 285, 240, 370; ukulele 540, its body 240 and 135, 110, 165.

/** Half of a body outline from the middle of its upper end to that of its lower one, and the same on the other side. */
const outline = (half: string): Stroke[] => [
  { d: half, part: 'body' },
  { d: mirrored(half), part: 'body' },
]
const both = (d: string, part: string): Stroke[] => [
  line(d, { fine: true, part }),
  line(mirrored(d), { fine: true, part }),
]

/** Neck, board, scroll and pegs above a body that begins at 0. */
const neck = (top: number, scroll: number, board: number, width: number): Stroke[] => [
  {
    d: `M${-width * 0.5} ${top}L${width * 0.5} ${top}L${width * 0.84} ${board}H${-width * 0.84}z`,
    part: 'fingerboard',
  },
  {
    d: `M${-width * 0.5} ${top}C${-width * 0.8} ${top - scroll * 0.5} ${-width * 0.7} ${top - scroll * 0.8} 0 ${top - scroll}C${width * 0.7} ${top - scroll * 0.8} ${width * 0.8} ${top - scroll * 0.5} ${width * 0.5} ${top}z`,
    part: 'pegs',
  },
  circle(0, top - scroll * 0.86, width * 0.42, { part: 'pegs' }),
  line(
    [0.18, 0.36, 0.54, 0.7]
      .map((share, i) => {
        const y = top - scroll * share
        return i % 2 ? `M${width * 0.5} ${y}H${width * 1.5}` : `M${-width * 1.5} ${y}H${-width * 0.5}`
      })
      .join(''),
    { heavy: true, part: 'pegs' },
  ),
]

const strings = (from: number, to: number, at: number, end: number, shares = [-1, -0.33, 0.33, 1]): Stroke =>
  line(shares.map((x) => `M${x * at} ${from}L${x * end} ${to}`).join(''), { fine: true, part: 'strings' })

const bow = (x: number, top: number, length: number): Stroke[] => [
  line(`M${x} ${top}V${top + length}`, { fine: true, part: 'bow-stick' }),
  line(`M${x - 8} ${top + 4}V${top + length - 20}`, { fine: true, part: 'bow-hair' }),
  line(`M${x} ${top + length - 44}h-12v34h12`, { fine: true, part: 'bow-stick' }),
]

const violin: Shape = {
  box: [-190, -250, 380, 630],
  strokes: [
    ...outline(
      'M0 0C30 -3 62 8 76 34C88 58 84 84 70 106L79 119C58 128 54 150 56 166C58 186 70 204 93 208L86 220C100 236 106 262 103 286C98 330 60 356 0 356',
    ),
    ...both('M40 134C30 142 44 160 38 180C34 194 38 206 50 208', 'body'),
    ...neck(-130, 106, 140, 24),
    line('M-22 195H22', { heavy: true, part: 'bridge' }),
    { d: 'M-13 246L-9 344H9L13 246z', part: 'tailpiece' },
    { d: 'M-96 292C-84 272 -44 276 -30 292V344C-66 346 -96 328 -96 292z', part: 'chin-rest', fine: true },
    strings(-130, 246, 9, 12),
    ...bow(150, -236, 600),
  ],
  spots: {
    seam: [92, 60],
    top: [-64, 72],
    'chin-rest': [-66, 310],
    strings: [0, 160],
    bridge: [24, 196],
    pegs: [-38, -200],
    tuners: [14, 254],
    nut: [14, -136],
    board: [0, -30],
    'board-end': [16, 128],
    post: [50, 226],
    bow: [150, 90],
    case: [-150, -220],
  },
  hold: [
    [0, -70],
    [98, 250],
  ],
}

/** A plucked one: half of its body, board, machines on a flat head, bridge. */
const plucked = (k: number, machines: number): Shape => {
  const side = machines / 2
  const ys = Array.from({ length: side }, (_, i) => -400 - 40 * i * (3 / side))
  return sized(
    {
      box: [-260, -600, 520, 1160],
      strokes: [
        ...outline('M0 0C60 -8 122 8 138 60C152 112 118 152 116 198C114 246 184 280 185 360C186 450 120 490 0 490'),
        circle(0, 158, 44, { part: 'body' }),
        { d: 'M-24 -370H24L28 150H-28z', part: 'fingerboard' },
        line([-330, -260, -196, -136, -82, -32, 14, 56, 94].map((y) => `M-26 ${y}H26`).join(''), {
          fine: true,
          part: 'fingerboard',
        }),
        { d: 'M-24 -370L-38 -400V-540H38V-400L24 -370z', part: 'pegs' },
        line(ys.map((y) => `M-38 ${y}H-62M38 ${y}H62`).join(''), { heavy: true, part: 'pegs' }),
        { d: 'M-72 362H72V390H-72z', part: 'bridge' },
        strings(-370, 372, 18, 26, machines === 6 ? [-1, -0.6, -0.2, 0.2, 0.6, 1] : undefined),
      ],
      spots: {
        bridge: [72, 376],
        top: [-120, 420],
        board: [0, -180],
        pegs: [60, -470],
        strings: [0, 290],
        case: [-200, -540],
        sound: [120, 150],
      },
      hold: [
        [0, -120],
        [150, 330],
      ],
    },
    k,
  )
}

export const bowed: Record<string, Shape> = {
  violin,
  viola: sized(violin, 405 / 356),
  cello: {
    box: [-330, -480, 660, 1300],
    strokes: [
      ...outline(
        'M0 0C62 -6 130 16 158 70C182 120 174 176 146 222L164 248C122 266 112 314 116 350C120 394 146 430 194 438L180 464C210 500 222 556 214 606C204 698 124 755 0 755',
      ),
      ...both('M84 280C64 296 92 334 80 376C72 404 80 430 104 434', 'body'),
      ...neck(-280, 180, 300, 40),
      line('M-46 410H46', { heavy: true, part: 'bridge' }),
      { d: 'M-26 520L-18 726H18L26 520z', part: 'tailpiece' },
      strings(-280, 520, 14, 22),
      line('M0 755V806', { heavy: true, part: 'endpin' }),
      ...bow(280, -300, 700),
    ],
    spots: {
      seam: [190, 120],
      top: [-120, 150],
      endpin: [0, 796],
      strings: [0, 340],
      bridge: [52, 412],
      pegs: [-64, -400],
      tuners: [30, 536],
      nut: [26, -290],
      board: [0, -60],
      'board-end': [34, 280],
      post: [104, 476],
      bow: [280, 80],
      case: [-260, -430],
    },
    hold: [
      [0, -150],
      [206, 540],
    ],
  },
  'double-bass': {
    box: [-470, -740, 940, 1980],
    strokes: [
      ...outline(
        'M0 0C34 4 52 40 84 84C128 140 214 166 242 250C264 322 250 384 220 432L238 460C180 482 170 540 176 592C182 652 224 692 288 700L270 732C322 788 344 868 340 940C330 1060 190 1110 0 1110',
      ),
      ...both('M128 452C96 474 140 530 122 590C110 634 122 672 160 678', 'body'),
      ...neck(-430, 270, 430, 56),
      line('M-70 620H70', { heavy: true, part: 'bridge' }),
      { d: 'M-38 790L-26 1066H26L38 790z', part: 'tailpiece' },
      strings(-430, 790, 20, 30),
      line('M0 1110V1196', { heavy: true, part: 'endpin' }),
      ...bow(400, -400, 680),
    ],
    spots: {
      seam: [262, 300],
      top: [-150, 300],
      endpin: [0, 1180],
      strings: [0, 520],
      bridge: [78, 622],
      pegs: [-92, -610],
      tuners: [0, 800],
      nut: [36, -444],
      board: [0, -120],
      'board-end': [50, 410],
      post: [150, 716],
      bow: [400, 0],
      case: [-400, -660],
    },
    hold: [
      [0, -260],
      [300, 820],
    ],
  },
  guitar: plucked(1, 6),
  ukulele: plucked(0.49, 4),
  bow: {
    box: square(770),
    turn: -45,
    slim: 1.6,
    strokes: [
      line('M-356 -24C-180 18 160 16 340 -18', { heavy: true, part: 'bow-stick' }),
      { d: 'M-372 -26L-348 -28L-352 20L-368 22z', part: 'bow-stick' },
      line('M-356 22H292M-356 26H292', { part: 'bow-hair' }),
      { d: 'M280 -10H338V30H280z', part: 'bow-stick' },
      circle(310, 10, 7, { fine: true, part: 'bow-stick' }),
      { d: 'M340 -22H366V-6H340z', part: 'bow-stick' },
      line('M216 4L276 -8', { heavy: true, fine: true, part: 'grip' }),
    ],
    spots: { stick: [0, 10], frog: [310, 10], hair: [-60, 24], tip: [-360, 0] },
    hold: [[310, 0]],
  },
}
