import { memo } from 'react'
import { brass } from './brass'
import { percussion } from './percussion'
import { type Shape } from './shape'
import spots from './spots.json'
import { strings } from './strings'
import { woodwind } from './woodwind'

const shapes: Record<string, Shape> = { ...woodwind, ...brass, ...percussion, ...strings }

/** A numbered point on a drawing. Several with one spot share it. */
export type Point = { key: string; number: number; spot: string; title: string; tone?: 'now' | 'right' | 'found' }

const none: Point[] = []

type Props = {
  name: string
  /** Said instead of the drawing; empty where the words stand beside it. */
  label: string
  /** As small as a pictogram: fewer lines. */
  small?: boolean
  points?: Point[]
  onPoint?: (key: string) => void
  className?: string
}

/** The outline of a kind of instrument, with numbered points. */
export const Drawing = memo(function Drawing({ name, label, small, points = none, onPoint, className }: Props) {
  const shape = shapes[name]
  if (!shape) return null
  const turn = ((shape.turn ?? 0) * Math.PI) / 180
  const at = (spot: string) => {
    const [x = 0, y = 0] = (spots as unknown as Record<string, Record<string, [number, number]>>)[name]?.[spot] ?? []
    return [x * Math.cos(turn) - y * Math.sin(turn), x * Math.sin(turn) + y * Math.cos(turn)] as const
  }
  const width = small ? 1.25 : 1.6
  const heavy = small ? 1.4 : 1.9
  return (
    <svg
      viewBox={shape.box.join(' ')}
      className={className}
      role={label ? 'img' : undefined}
      aria-label={label || undefined}
      aria-hidden={label ? undefined : true}
    >
      <g
        transform={shape.turn ? `rotate(${String(shape.turn)})` : undefined}
        stroke="currentColor"
        strokeLinejoin="round"
        strokeLinecap="round"
      >
        {shape.strokes
          .filter((s) => !small || !s.fine)
          .map((s, n) => (
            <path
              key={n}
              d={s.d}
              vectorEffect="non-scaling-stroke"
              strokeWidth={s.heavy ? width * heavy : s.fine ? 1 : width}
              className={s.open ? 'fill-none' : 'fill-base-200'}
            />
          ))}
      </g>
      {spread(points, at, shape.box).map(({ point, x, y }) => (
        <Dot key={point.key} point={point} x={x} y={y} size={dotSize(shape.box)} onPoint={onPoint} />
      ))}
    </svg>
  )
})

/** Puts points that would hide each other side by side, inside the drawing's box. */
function spread(points: Point[], at: (spot: string) => readonly [number, number], box: Shape['box']) {
  const [left, top, width, height] = box
  const apart = dotSize(box) * 2.1
  const placed: { point: Point; x: number; y: number }[] = []
  for (const point of points) {
    const [x, y] = at(point.spot)
    const places = [0, 1, 2].flatMap((ring) =>
      Array.from({ length: ring === 0 ? 1 : 8 }, (_, n) => ({
        x: x + ring * apart * Math.cos((n * Math.PI) / 4),
        y: y + ring * apart * Math.sin((n * Math.PI) / 4),
      })),
    )
    const free = places.find(
      (p) =>
        p.x > left + apart / 2 &&
        p.x < left + width - apart / 2 &&
        p.y > top + apart / 2 &&
        p.y < top + height - apart / 2 &&
        placed.every((other) => Math.hypot(other.x - p.x, other.y - p.y) >= apart),
    )
    placed.push({ point, ...(free ?? { x, y }) })
  }
  return placed
}

const dotSize = ([, , width, height]: Shape['box']) => Math.max(width, height) / 34

const tones = {
  now: 'fill-primary stroke-primary',
  right: 'fill-base-100 stroke-primary',
  found: 'fill-error stroke-error',
}

function Dot(props: { point: Point; x: number; y: number; size: number; onPoint: Props['onPoint'] }) {
  const { point, x, y, size, onPoint } = props
  const tone = point.tone ?? 'right'
  return (
    <g
      transform={`translate(${String(x)} ${String(y)})`}
      className={onPoint ? 'cursor-pointer' : ''}
      onClick={onPoint && (() => onPoint(point.key))}
    >
      <title>{point.title}</title>
      {point.spot === 'case' && (
        <path
          d={`M${String(-size * 2)} ${String(-size * 1.2)}h${String(size * 4)}v${String(size * 2.6)}h${String(-size * 4)}zM${String(-size * 0.6)} ${String(-size * 1.2)}v${String(-size * 0.6)}h${String(size * 1.2)}v${String(size * 0.6)}`}
          fill="none"
          stroke="currentColor"
          strokeWidth={size / 6}
        />
      )}
      <circle r={size} className={tones[tone]} strokeWidth={size / 7} />
      <text
        textAnchor="middle"
        y={size * 0.38}
        fontSize={size * 1.1}
        fontWeight={700}
        className={tone === 'right' ? 'fill-primary' : 'fill-base-100'}
      >
        {point.number}
      </text>
    </g>
  )
}
