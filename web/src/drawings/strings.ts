import { box, circle, line, mirrored, type Shape, type Stroke } from './shape'

/** Half of a body outline from the top of its upper bout down to its end, and the same on the other side. */
const outline = (half: string): Stroke[] => [{ d: half }, { d: mirrored(half) }]
const both = (d: string): Stroke[] => [line(d, { fine: true }), line(mirrored(d), { fine: true })]

const violinHalf =
  'M0 -58 C26 -60 50 -50 52 -28 C53 -16 47 -8 42 -3 L46 2 C32 8 32 26 48 33 L43 37 C58 42 68 54 65 74 C60 96 30 104 0 104'

export const strings: Record<string, Shape> = {
  violin: {
    box: [-100, -150, 200, 270],
    strokes: [
      ...outline(violinHalf),
      ...both('M20 8 C14 12 24 22 20 30 C18 36 20 42 26 42'),
      { d: 'M-5 -118L5 -118L8 22H-8z' },
      { d: 'M-5 -118C-8 -132 -8 -140 0 -146C8 -140 8 -132 5 -118z' },
      circle(0, -142, 5),
      line('M-16 -136H-6M6 -130H16M-16 -124H-6M6 -120H16', { heavy: true }),
      line('M-18 40H18', { heavy: true }),
      { d: 'M-9 62L-6 98H6L9 62z' },
      { d: 'M-46 76C-40 68 -22 70 -16 78V98C-34 98 -46 92 -46 76z', fine: true },
      line('M-3.5 -118L-6 62M-1 -118L-2 62M1 -118L2 62M3.5 -118L6 62', { fine: true }),
      line('M84 100V-96L78 -104', { fine: true }),
      line('M79 92V-94', { fine: true }),
      box(76, 92, 8, 14, { fine: true }),
    ],
  },
  cello: {
    box: [-110, -150, 220, 300],
    strokes: [
      ...outline(
        'M0 -52 C30 -54 56 -42 58 -18 C59 -6 52 2 46 8 L51 13 C35 20 35 38 53 46 L48 50 C66 56 77 70 73 88 C66 112 34 118 0 118',
      ),
      ...both('M24 20 C18 24 28 34 24 44 C22 50 24 56 30 56'),
      { d: 'M-5 -122L5 -122L9 32H-9z' },
      { d: 'M-5 -122C-8 -134 -8 -140 0 -146C8 -140 8 -134 5 -122z' },
      circle(0, -142, 5),
      line('M-16 -138H-6M6 -133H16M-16 -127H-6M6 -123H16', { heavy: true }),
      line('M-20 54H20', { heavy: true }),
      { d: 'M-11 76L-7 112H7L11 76z' },
      line('M-3.5 -122L-6.5 76M-1 -122L-2 76M1 -122L2 76M3.5 -122L6.5 76', { fine: true }),
      line('M0 118V146', { heavy: true }),
      line('M96 106V-80L90 -88', { fine: true }),
      line('M91 98V-78', { fine: true }),
      box(88, 98, 8, 14, { fine: true }),
    ],
  },
  bow: {
    box: [-100, -100, 200, 200],
    turn: -45,
    strokes: [
      line('M-120 -7C-60 5 60 5 112 -5', { heavy: true }),
      { d: 'M-124 -9L-114 -10L-116 10L-122 10z' },
      line('M-117 9H96'),
      { d: 'M92 -4H112V11H92z' },
      circle(102, 4, 2.4, { fine: true }),
      { d: 'M112 -7H122V-1H112z' },
      line('M72 -1L90 -3', { heavy: true, fine: true }),
    ],
  },
}
