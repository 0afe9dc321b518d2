import { memo } from 'react'
import { drawings } from './drawings'
import { type Shape } from './shape'

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
  /** Parts that stand out. */
  parts?: string[]
  /** Where hands hold it is shown. */
  held?: boolean
  className?: string
}

/** The outline of a kind of instrument, with numbered points. */
export const Drawing = memo(function Drawing(props: Props) {
  const { name, label, small, points = none, onPoint, parts = [], held, className } = props
  const shape = drawings[name]
  if (!shape) return null
  const turn = ((shape.turn ?? 0) * Math.PI) / 180
  const at = (spot: string) => {
    const [x = 0, y = 0] = shape.spots?.[spot] ?? []
    return turned(x, y, turn)
  }
  const width = small ? 1 : 1.6
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
        transform={`rotate(${String(shape.turn ?? 0)}) scale(1 ${String((small && shape.slim) || 1)})`}
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
              transform={s.move}
              strokeWidth={s.heavy ? width * heavy : s.fine ? 1 : width}
              className={shown(s, parts)}
            />
          ))}
      </g>
      {held &&
        shape.hold?.map(([x, y]) => {
          const [hx, hy] = turned(x, y, turn)
          return <Hand key={`${String(x)} ${String(y)}`} x={hx} y={hy} size={dotSize(shape.box) * 2.4} />
        })}
      {spread(points, at, shape.box).map(({ point, x, y }) => (
        <Dot key={point.key} point={point} x={x} y={y} size={dotSize(shape.box)} onPoint={onPoint} />
      ))}
    </svg>
  )
})

const turned = (x: number, y: number, turn: number) =>
  [x * Math.cos(turn) - y * Math.sin(turn), x * Math.sin(turn) + y * Math.cos(turn)] as const

/** A part that stands out is filled and drawn in the colour of action. */
function shown(s: Shape['strokes'][number], parts: string[]) {
  const out = s.part !== undefined && parts.includes(s.part)
  if (s.open) return out ? 'fill-none stroke-primary' : 'fill-none'
  return out ? 'fill-primary/25 stroke-primary' : 'fill-base-200'
}

/** A hand where it holds: a ring with a thumb and four fingers over it. */
function Hand({ x, y, size }: { x: number; y: number; size: number }) {
  return (
    <g
      transform={`translate(${String(x)} ${String(y)}) scale(${String(size / 20)})`}
      className="stroke-primary"
      fill="none"
      strokeLinecap="round"
    >
      <circle r="18" strokeWidth="2.4" strokeDasharray="5 4" />
      <path d="M-9 10V0M-3.500 10V-6M2.500 10V-7M8 10V-3M-9 4q-5 -1 -6 -6M-9 10q0 5 8 5t9 -5" strokeWidth="2.4" />
    </g>
  )
}

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
