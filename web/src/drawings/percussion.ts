import { circle, line, type Shape, type Stroke } from './shape'

/** Bars from low to high, and the pipes below them. */
const bars: Stroke[] = Array.from({ length: 12 }, (_, i) => {
  const x = -104 + i * 17.5
  const half = 44 - i * 2.2
  return { d: `M${x.toFixed(1)} ${(-24 - half / 2).toFixed(1)}h13v${half.toFixed(1)}h-13z` }
})
const pipes: Stroke[] = Array.from({ length: 12 }, (_, i) => {
  const x = -102 + i * 17.5
  return { d: `M${x.toFixed(1)} 6h9v${(58 - i * 4).toFixed(1)}h-9z`, fine: true }
})
const lugs = (xs: number[], top: number, height: number) =>
  xs.flatMap((x) => [line(`M${String(x)} ${String(top)}v${String(height)}`, { fine: true })])

export const percussion: Record<string, Shape> = {
  mallets: {
    box: [-120, -90, 240, 190],
    strokes: [
      line('M-112 -2H112M-112 -46H112', { fine: true }),
      ...bars,
      ...pipes,
      line('M-106 -2V92M106 -2V92M-106 70H106', { heavy: true }),
      circle(-106, 92, 5),
      circle(106, 92, 5),
      line('M-30 92H30M0 70V92', { fine: true }),
      line('M-90 -66L-50 -84M-40 -66L0 -84', { fine: true }),
      circle(-92, -64, 5, { fine: true }),
      circle(-42, -64, 5, { fine: true }),
    ],
  },
  timpani: {
    box: [-110, -90, 220, 190],
    strokes: [
      { d: 'M-90 -48C-90 26 -50 56 0 56C50 56 90 26 90 -48z' },
      { d: 'M-94 -58H94V-46H-94z' },
      ...lugs([-70, -35, 0, 35, 70], -46, 34),
      line('M-84 -20L-60 78M84 -20L60 78M0 56V78', { heavy: true }),
      { d: 'M-66 78H66V88H-66z' },
      { d: 'M-18 78L-34 66H-4z' },
      circle(-62, 92, 5),
      circle(62, 92, 5),
      line('M-40 -70L20 -86', { fine: true }),
      circle(24, -86, 5, { fine: true }),
    ],
  },
  drum: {
    box: [-110, -95, 220, 195],
    strokes: [
      { d: 'M-78 -34C-78 -58 78 -58 78 -34C78 -10 -78 -10 -78 -34z' },
      { d: 'M-78 -34V26C-78 50 78 50 78 26V-34C78 -10 -78 -10 -78 -34z' },
      line('M-78 14C-78 40 78 40 78 14', { fine: true }),
      ...lugs([-60, -30, 0, 30, 60], -14, 52),
      line('M-52 42L-30 92M52 42L30 92M-40 68H40', { heavy: true }),
      { d: 'M78 -16h12v28h-12z', fine: true },
      line('M-60 -62L10 -84M-30 -58L40 -82', { fine: true }),
    ],
  },
}
