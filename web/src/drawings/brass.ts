import { box, circle, line, type Shape } from './shape'

/** A valve: cap, casing, button. */
const valve = (x: number, top: number, height: number, width = 14) => [
  box(x - width / 2, top, width, height),
  line(`M${String(x)} ${String(top)}v-10`, { heavy: true }),
  box(x - width / 2 - 2, top - 14, width + 4, 4, { fine: true }),
]

export const brass: Record<string, Shape> = {
  horn: {
    box: [-110, -105, 220, 210],
    strokes: [
      circle(-6, 6, 66),
      circle(-6, 6, 54),
      circle(2, -4, 34, { fine: true }),
      { d: 'M34 48C64 62 84 76 92 100L30 104C36 88 22 70 4 66z' },
      line('M-60 -36C-76 -52 -84 -66 -92 -84', { heavy: true }),
      { d: 'M-100 -94L-88 -98L-86 -84L-94 -80z' },
      circle(-30, 2, 9),
      circle(-8, 2, 9),
      circle(14, 2, 9),
      line('M-52 -20L-30 2M-50 -32L-8 2M-44 -44L14 2', { fine: true }),
      line('M-20 28H26M-14 40H20', { fine: true }),
    ],
  },
  trumpet: {
    box: [-120, -75, 240, 150],
    strokes: [
      { d: 'M-118 -24H-104L-98 -20V-12L-104 -8H-118z' },
      line('M-98 -16H60C84 -16 84 26 60 26H-40C-62 26 -62 -16 -40 -16', { heavy: true }),
      { d: 'M40 -18C70 -20 96 -34 116 -50V18C96 2 70 -12 40 -14z' },
      ...valve(-18, -30, 66),
      ...valve(2, -30, 66),
      ...valve(22, -30, 66),
      { d: 'M60 -10h18v30h-18', open: true, fine: true },
      line('M-30 34V48H-8M34 34V46', { fine: true }),
      line('M-66 22v10', { fine: true }),
    ],
  },
  cornet: {
    box: [-100, -75, 200, 150],
    strokes: [
      { d: 'M-98 -24H-86L-80 -20V-12L-86 -8H-98z' },
      line('M-80 -16H44C76 -16 76 36 44 36H-30C-60 36 -60 4 -36 4H-8', { heavy: true }),
      { d: 'M34 -18C58 -20 78 -38 96 -54V24C78 6 58 -12 34 -14z' },
      ...valve(-14, -34, 66),
      ...valve(6, -34, 66),
      ...valve(26, -34, 66),
      line('M-46 34v12', { fine: true }),
      line('M46 -8h16v30h-16', { fine: true }),
    ],
  },
  trombone: {
    box: [-125, -75, 250, 150],
    strokes: [
      line('M-40 26H110C122 26 122 44 110 44H-40', { heavy: true }),
      { d: 'M-54 20H-40V32H-54z' },
      line('M-54 26H-96V-18C-96 -40 -70 -40 -62 -30', { heavy: true }),
      line('M-66 -30H4', { heavy: true }),
      { d: 'M0 -33C28 -34 50 -46 66 -66V8C50 -12 28 -26 0 -27z' },
      line('M-40 20V50M-26 20V50'),
      { d: 'M-70 40H-56L-50 44L-56 48H-70z' },
      circle(-92, 6, 9, { fine: true }),
      line('M-102 -18C-118 -18 -118 10 -102 10', { fine: true }),
      line('M114 44v10', { fine: true }),
      line('M-60 18v14', { fine: true }),
    ],
  },
  euphonium: {
    box: [-95, -120, 190, 240],
    strokes: [
      { d: 'M-10 -60C-14 -86 -30 -104 -46 -116H62C46 -104 32 -86 28 -60z' },
      line('M9 -60V66C9 110 -62 110 -62 66V-8C-62 -34 -30 -34 -30 -8V54', { heavy: true }),
      line('M20 -60V70C20 124 -74 124 -74 66', { heavy: true }),
      line('M-62 -20C-62 -44 -76 -48 -82 -48', { heavy: true }),
      { d: 'M-92 -58L-78 -54V-42L-92 -40z' },
      ...valve(-42, -4, 54, 13),
      ...valve(-25, -4, 54, 13),
      ...valve(-8, -4, 54, 13),
      line('M28 10H52V64H28', { fine: true }),
      line('M4 100v14', { fine: true }),
    ],
  },
  tuba: {
    box: [-105, -125, 210, 250],
    strokes: [
      { d: 'M-6 -52C-10 -84 -34 -108 -58 -122H84C60 -108 38 -84 34 -52z' },
      line('M6 -52V62C6 104 -64 104 -64 58V-4C-64 -34 -34 -34 -34 -4V50', { heavy: true }),
      line('M30 -52V66C30 134 -84 134 -84 60V6', { heavy: true }),
      line('M-84 6C-84 -24 -88 -40 -94 -48', { heavy: true }),
      { d: 'M-104 -60L-90 -58L-88 -46L-100 -44z' },
      ...valve(-48, 0, 54, 14),
      ...valve(-29, 0, 54, 14),
      ...valve(-10, 0, 54, 14),
      line('M38 0H66V70H38', { fine: true }),
      line('M-20 112v12', { fine: true }),
    ],
  },
}
