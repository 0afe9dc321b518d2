/** One stroke of a drawing. */
export type Stroke = {
  d: string
  /** Detail that is left out where the drawing is small. */
  fine?: true
  /** A line, not a surface. */
  open?: true
  /** A thick line, such as a lever. */
  heavy?: true
}

/** An outline of a kind of instrument. Lengths are in units of the drawing's own box. */
export type Shape = {
  /** x, y, width and height of what is shown. */
  box: [number, number, number, number]
  /** Degrees by which a long instrument is turned to fit a square. */
  turn?: number
  strokes: Stroke[]
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

/** The same stroke on the other side of the upright axis. Only for paths in absolute coordinates. */
export const mirrored = (d: string) =>
  d.replace(
    /(-?\d+(?:\.\d+)?)([ ,]+)(-?\d+(?:\.\d+)?)/g,
    (_, x: string, gap: string, y: string) => `${n(-Number(x))}${gap}${y}`,
  )
