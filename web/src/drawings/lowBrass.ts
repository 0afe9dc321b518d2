import { fine, mouthpiece, valve } from './brassParts'
import { circle, line, tubing, type Shape, type Stroke } from './shape'

// Measures in millimetres, from memory, of usual instruments; drawn from them and not after any maker's. Euphonium 700 high with a bell of 300,
// tuba 960 and 450, sousaphone 1250 and 640.

/** Four rotors with their levers, side by side. */
const rotors: Stroke[] = [0, 1, 2, 3].flatMap((i) => {
  const [x, y] = [-52 + i * 34, 20 + i * 26]
  return [
    circle(x, y, 24, { part: 'valves' }),
    circle(x, y, 9, fine('valves')),
    line(`M${String(x - 8)} ${String(y - 20)}L${String(x + 26)} ${String(y - 104)}h34`, {
      part: 'valves',
      heavy: true,
    }),
  ]
})

const tuba: Shape = {
  box: [-410, -500, 740, 1000],
  strokes: [
    tubing(
      [
        [-60, 60, 22],
        [-60, 230, 26],
        [-6, 280, 30],
        [46, 226, 34],
        [52, -70, 40],
        [110, -180, 46],
        [190, -150, 54],
        [222, -20, 64],
        [216, 250, 84],
        [130, 404, 104],
        [-30, 436, 124],
        [-170, 370, 140],
        [-206, 200, 148],
        [-190, -60, 160],
        [-178, -240, 196],
        [-172, -360, 262],
        [-171, -424, 350],
        [-171, -450, 450],
      ],
      { part: 'bell' },
      7,
    ),
    line('M-395 -450Q-171 -478 53 -450', { part: 'bell', fine: true }),
    ...valve(-62, -80, 190, 38),
    ...valve(-18, -80, 190, 38),
    ...valve(26, -80, 190, 38),
    tubing(
      [
        [70, 30, 14],
        [112, -50, 14],
        [84, -170, 14],
        [120, -240, 14],
        [196, -256, 14],
      ],
      { part: 'leadpipe' },
    ),
    mouthpiece(190, -256, 34, 70),
    line('M-82 20h-26v90h26M46 20h36v80h-36M-18 116v84h44v-84', fine('slides')),
    line('M-60 490v-26', fine('water-keys')),
  ],
  spots: {
    case: [250, -440],
    mouthpiece: [236, -292],
    leadpipe: [98, -200],
    valves: [-18, 10],
    slides: [96, 90],
    'water-key': [-60, 470],
    bell: [-130, -410],
    body: [216, 160],
    sound: [-130, -340],
  },
  hold: [
    [222, 60],
    [-200, 120],
  ],
}

export const lowBrass: Record<string, Shape> = {
  euphonium: {
    box: [-290, -370, 520, 740],
    strokes: [
      tubing(
        [
          [-52, 40, 15],
          [-52, 170, 17],
          [-10, 214, 20],
          [36, 170, 22],
          [40, -60, 26],
          [86, -140, 30],
          [140, -110, 34],
          [160, 0, 40],
          [156, 200, 52],
          [96, 306, 66],
          [-20, 330, 78],
          [-120, 280, 88],
          [-150, 150, 94],
          [-140, -40, 102],
          [-132, -180, 124],
          [-128, -262, 164],
          [-127, -310, 222],
          [-127, -332, 300],
        ],
        { part: 'bell' },
        7,
      ),
      line('M-276 -332Q-127 -352 22 -332', { part: 'bell', fine: true }),
      ...valve(-44, -70, 150, 30),
      ...valve(-8, -70, 150, 30),
      ...valve(28, -70, 150, 30),
      tubing(
        [
          [60, 20, 12],
          [96, -30, 12],
          [72, -120, 12],
          [96, -180, 12],
          [150, -196, 12],
        ],
        { part: 'leadpipe' },
      ),
      mouthpiece(146, -196, 28, 60),
      line('M-60 10h-20v60h20M44 10h26v50h-26M-8 84v60h36v-60', fine('slides')),
      line('M-40 374v-20', fine('water-keys')),
    ],
    spots: {
      case: [180, -330],
      mouthpiece: [182, -226],
      leadpipe: [84, -150],
      valves: [-8, 0],
      slides: [80, 60],
      'water-key': [-40, 350],
      bell: [-106, -300],
      body: [160, 120],
      sound: [-106, -250],
    },
    hold: [
      [160, 40],
      [-140, 60],
    ],
  },
  tuba,
  'tuba-rotary': { ...tuba, strokes: [...tuba.strokes.filter((s) => s.part !== 'valves'), ...rotors] },
  sousaphone: {
    box: [-430, -740, 860, 1390],
    strokes: [
      tubing(
        [
          [60, -150, 24],
          [130, -60, 30],
          [160, 80, 36],
          [110, 220, 42],
          [-20, 250, 48],
          [-120, 170, 54],
          [-130, 30, 60],
        ],
        { part: 'body' },
      ),
      tubing(
        [
          [-130, 30, 62],
          [-220, 180, 76],
          [-190, 400, 92],
          [0, 540, 108],
          [220, 470, 124],
          [330, 250, 138],
          [318, -20, 152],
          [230, -220, 170],
          [90, -330, 200],
          [-30, -400, 290],
          [-90, -450, 460],
          [-130, -490, 640],
        ],
        { part: 'bell' },
        8,
      ),
      line('M-356 -264Q-190 -550 96 -716', { part: 'bell', fine: true }),
      ...valve(-40, 30, 130, 34),
      ...valve(2, 40, 130, 34),
      ...valve(44, 50, 130, 34),
      tubing(
        [
          [60, -150, 16],
          [0, -190, 15],
          [-70, -190, 14],
          [-130, -160, 13],
        ],
        { part: 'leadpipe' },
      ),
      mouthpiece(-196, -160, 34, 70),
      line('M-60 80h-26v60h26M64 90h34v60h-34', fine('slides')),
      line('M0 258v26', fine('water-keys')),
    ],
    spots: {
      case: [330, -620],
      mouthpiece: [-180, -200],
      leadpipe: [-40, -214],
      valves: [2, 100],
      slides: [100, 130],
      'water-key': [0, 290],
      bell: [-130, -440],
      body: [160, 80],
      sound: [-60, -380],
    },
    hold: [
      [2, 60],
      [300, -60],
    ],
  },
}
