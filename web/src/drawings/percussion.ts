// In the proportions of usual instruments (from memory): a marimba or vibraphone of three octaves, kettle and drum as wide as they stand high.
import { circle, line, type Shape, type Stroke } from './shape'

/** Bars from low to high, and the pipes below them. */
const bars: Stroke[] = Array.from({ length: 12 }, (_, i) => {
  const x = -104 + i * 17.5
  const half = 44 - i * 2.2
  return { d: `M${x.toFixed(1)} ${(-24 - half / 2).toFixed(1)}h13v${half.toFixed(1)}h-13z`, part: 'bars' }
})
const pipes: Stroke[] = Array.from({ length: 12 }, (_, i) => {
  const x = -102 + i * 17.5
  return { d: `M${x.toFixed(1)} 6h9v${(58 - i * 4).toFixed(1)}h-9z`, fine: true, part: 'resonators' }
})
const lugs = (xs: number[], top: number, height: number) =>
  xs.flatMap((x) => [line(`M${String(x)} ${String(top)}v${String(height)}`, { fine: true, part: 'lugs' })])

export const percussion: Record<string, Shape> = {
  mallets: {
    box: [-120, -90, 240, 190],
    strokes: [
      line('M-112 -2H112M-112 -46H112', { fine: true }),
      ...bars,
      ...pipes,
      line('M-106 -2V92M106 -2V92M-106 70H106', { heavy: true, part: 'frame' }),
      circle(-106, 92, 5),
      circle(106, 92, 5),
      line('M-30 92H30M0 70V92', { fine: true }),
      line('M-90 -66L-50 -84M-40 -66L0 -84', { fine: true }),
      circle(-92, -64, 5, { fine: true }),
      circle(-42, -64, 5, { fine: true }),
    ],
    spots: {
      frame: [-106, 80],
      cord: [108, -46],
      posts: [82, -2],
      bars: [-40, -24],
      resonators: [-30, 40],
      damper: [40, -2],
      pedal: [0, 88],
      beaters: [-68, -78],
      sound: [90, -66],
    },
  },
  timpani: {
    box: [-110, -90, 220, 190],
    strokes: [
      { d: 'M-90 -48C-90 26 -50 56 0 56C50 56 90 26 90 -48z', part: 'shell' },
      { d: 'M-94 -58H94V-46H-94z', part: 'head' },
      ...lugs([-70, -35, 0, 35, 70], -46, 34),
      line('M-84 -20L-60 78M84 -20L60 78M0 56V78', { heavy: true }),
      { d: 'M-66 78H66V88H-66z' },
      { d: 'M-18 78L-34 66H-4z' },
      circle(-62, 92, 5),
      circle(62, 92, 5),
      line('M-40 -70L20 -86', { fine: true }),
      circle(24, -86, 5, { fine: true }),
    ],
    spots: {
      frame: [-62, 86],
      head: [-50, -54],
      lugs: [36, -30],
      pedal: [-18, 70],
      shell: [0, 20],
      beaters: [0, -78],
      sound: [84, -72],
    },
  },
  drum: {
    box: [-110, -95, 220, 195],
    strokes: [
      { d: 'M-78 -34C-78 -58 78 -58 78 -34C78 -10 -78 -10 -78 -34z', part: 'head' },
      { d: 'M-78 -34V26C-78 50 78 50 78 26V-34C78 -10 -78 -10 -78 -34z', part: 'shell' },
      line('M-78 14C-78 40 78 40 78 14', { fine: true }),
      ...lugs([-60, -30, 0, 30, 60], -14, 52),
      line('M-52 42L-30 92M52 42L30 92M-40 68H40', { heavy: true, part: 'frame' }),
      { d: 'M78 -16h12v28h-12z', fine: true },
      line('M-60 -62L10 -84M-30 -58L40 -82', { fine: true }),
    ],
    spots: {
      frame: [-40, 76],
      head: [-30, -34],
      lugs: [30, 10],
      snares: [86, -4],
      shell: [-56, 18],
      beaters: [-20, -74],
      sound: [84, -66],
    },
  },
  'bass-drum': {
    box: [-110, -100, 220, 205],
    strokes: [
      circle(0, -14, 78, { part: 'shell' }),
      circle(0, -14, 70, { part: 'head' }),
      ...Array.from({ length: 8 }, (_, i) => {
        const a = (i * Math.PI) / 4 + Math.PI / 8
        const [c, s] = [Math.cos(a), Math.sin(a)]
        return line(
          `M${(c * 68).toFixed(1)} ${(s * 68 - 14).toFixed(1)}L${(c * 82).toFixed(1)} ${(s * 82 - 14).toFixed(1)}`,
          { heavy: true, part: 'lugs' },
        )
      }),
      line('M-84 -14H-94V92M84 -14H94V92M-94 76H94M-106 92H-82M82 92H106', { heavy: true, part: 'frame' }),
      line('M-14 4L44 -58', { fine: true }),
      circle(50, -64, 10, { fine: true }),
    ],
    spots: {
      frame: [-94, 84],
      head: [-30, -30],
      lugs: [72, 18],
      snares: [0, 60],
      shell: [-56, 40],
      beaters: [50, -64],
      sound: [84, -86],
    },
  },
  bells: {
    box: [-120, -70, 240, 150],
    strokes: [
      { d: 'M-108 -58L92 -40V30L-108 52z', part: 'frame' },
      ...Array.from({ length: 14 }, (_, i) => {
        const x = -100 + i * 13.4
        const half = 38 - i * 1.6
        return { d: `M${x.toFixed(1)} ${(-4 - half / 2).toFixed(1)}h10v${half.toFixed(1)}h-10z`, part: 'bars' }
      }),
      line('M-104 -16L88 -10M-104 10L88 4', { fine: true }),
      line('M-104 52L-96 74M86 32L94 74M-110 74H-82M80 74H108', { heavy: true, part: 'frame' }),
      line('M-50 -62L-10 -54M10 -60L50 -52', { fine: true }),
      circle(-54, -63, 5, { fine: true }),
      circle(6, -61, 5, { fine: true }),
    ],
    spots: {
      frame: [-96, 66],
      cord: [90, -12],
      posts: [70, 6],
      bars: [-40, -4],
      resonators: [-20, 40],
      damper: [40, -2],
      pedal: [0, 64],
      beaters: [-50, -62],
      sound: [92, -50],
    },
  },
}
