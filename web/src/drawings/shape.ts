/** One stroke of a drawing. */
export type Stroke = {
  d: string
  /** Detail that is left out where the drawing is small. */
  fine?: true
  /** A line, not a surface. */
  open?: true
  /** A thick line, such as a lever. */
  heavy?: true
  /** The part of the catalogue that it belongs to. */
  part?: string
  /** An SVG transform by which it is moved and turned, as in a case. */
  move?: string
}

/** An outline of a kind of instrument, in millimetres of a usual one. */
export type Shape = {
  /** x, y, width and height of what is shown. */
  box: [number, number, number, number]
  /** Degrees by which a long instrument is turned to fit a square. */
  turn?: number
  /** How much thicker a slim instrument is drawn where it is small. */
  slim?: number
  strokes: Stroke[]
  /** Where the points of its inspection stand. */
  spots?: Record<string, [number, number]>
  /** Where hands hold it. */
  hold?: [number, number][]
}

const n = (x: number) => String(Math.round(x * 10) / 10)

export const circle = (x: number, y: number, r: number, more: Partial<Stroke> = {}): Stroke => ({
  d: `M${n(x - r)} ${n(y)}a${n(r)} ${n(r)} 0 1 0 ${n(2 * r)} 0a${n(r)} ${n(r)} 0 1 0 ${n(-2 * r)} 0z`,
  ...more,
})

export const box = (x: number, y: number, w: number, h: number, more: Partial<Stroke> = {}): Stroke => ({
  d: `M${n(x)} ${n(y)}h${n(w)}v${n(h)}h${n(-w)}z`,
  ...more,
})

export const line = (d: string, more: Partial<Stroke> = {}): Stroke => ({ d, open: true, ...more })

/** A straight piece of tube along x, from one diameter to another. */
export const along = (x: number, to: number, d: number, end = d, more: Partial<Stroke> = {}): Stroke => ({
  d: `M${n(x)} ${n(-d / 2)}L${n(to)} ${n(-end / 2)}V${n(end / 2)}L${n(x)} ${n(d / 2)}z`,
  ...more,
})

/** Key cups along a tube. */
export const cups = (xs: number[], y: number, r: number, more: Partial<Stroke> = {}) =>
  xs.map((x) => circle(x, y, r, { fine: true, part: 'pads', ...more }))

/** A point of the middle of a bent tube: x, y and its diameter there. */
type Bend = [x: number, y: number, d: number]

const between = (a: number, b: number, c: number, d: number, t: number) =>
  0.5 * (2 * b + (c - a) * t + (2 * a - 5 * b + 4 * c - d) * t * t + (3 * b - a - 3 * c + d) * t * t * t)

/** The middle of a bent tube, smooth through its points. */
function middle(through: Bend[], pieces: number): Bend[] {
  const at = (i: number) => through[Math.max(0, Math.min(through.length - 1, i))] as Bend
  const out: Bend[] = []
  for (let i = 0; i < through.length - 1; i++)
    for (let k = 0; k < pieces; k++) {
      const v = [0, 1, 2].map((axis) =>
        between(
          at(i - 1)[axis] as number,
          at(i)[axis] as number,
          at(i + 1)[axis] as number,
          at(i + 2)[axis] as number,
          k / pieces,
        ),
      )
      out.push([v[0] as number, v[1] as number, v[2] as number])
    }
  return [...out, at(through.length - 1)]
}

/** A tube that bends through points and widens as they say: its outline, closed. */
export function tubing(through: Bend[], more: Partial<Stroke> = {}, pieces = 6): Stroke {
  const line = middle(through, pieces)
  const side = (sign: number) =>
    line.map(([x, y, d], i) => {
      const [ax, ay] = line[Math.max(0, i - 1)] as Bend
      const [bx, by] = line[Math.min(line.length - 1, i + 1)] as Bend
      const length = Math.hypot(bx - ax, by - ay) || 1
      return `${n(x - (sign * d * (by - ay)) / length / 2)} ${n(y + (sign * d * (bx - ax)) / length / 2)}`
    })
  return { d: `M${side(1).join('L')}L${side(-1).reverse().join('L')}z`, ...more }
}

/** The same stroke on the other side of the upright axis. Only for paths in absolute coordinates. */
export const mirrored = (d: string) =>
  d.replace(
    /(-?\d+(?:\.\d+)?)([ ,]+)(-?\d+(?:\.\d+)?)/g,
    (_, x: string, gap: string, y: string) => `${n(-Number(x))}${gap}${y}`,
  )

/** A square around the middle for something of a length that is turned by 45 degrees. */
export const square = (length: number): Shape['box'] => {
  const half = Math.round(length * 0.39)
  return [-half, -half, 2 * half, 2 * half]
}

/** The same instrument at so many times its measures. */
export function sized(shape: Shape, times: number): Shape {
  const at = ([x, y]: [number, number]): [number, number] => [x * times, y * times]
  return {
    ...shape,
    box: shape.box.map((v) => Math.round(v * times)) as Shape['box'],
    strokes: shape.strokes.map((s) => ({ ...s, d: larger(s.d, times) })),
    spots: shape.spots && Object.fromEntries(Object.entries(shape.spots).map(([spot, place]) => [spot, at(place)])),
    hold: shape.hold?.map(at),
  }
}

/** A path at so many times its size: every number of it, but for the angle and the two flags of an arc. */
const larger = (d: string, times: number) =>
  d.replace(/([a-zA-Z])([^a-zA-Z]*)/g, (_, command: string, rest: string) => {
    const numbers = [...rest.matchAll(/-?\d+(?:\.\d+)?/g)].map(([text], i) =>
      /a/i.test(command) && [2, 3, 4].includes(i % 7) ? text : n(Number(text) * times),
    )
    return command + numbers.join(' ')
  })
