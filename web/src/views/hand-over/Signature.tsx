import { useRef, useState, type PointerEvent } from 'react'

type Stroke = [number, number][]

type Props = { strokes: Stroke[]; onChange: (strokes: Stroke[]) => void }

/** A line to sign over, with a finger, a pen or a mouse. Points go from 0 to 1000 across and down. */
export function Signature({ strokes, onChange }: Props) {
  const pad = useRef<SVGSVGElement>(null)
  // Moves come faster than the page is drawn, so the stroke is kept beside what is shown of it.
  const stroke = useRef<Stroke>([])
  const [drawing, setDrawing] = useState<Stroke | null>(null)
  const draw = (point: [number, number]) => {
    stroke.current = [...stroke.current, point]
    setDrawing(stroke.current)
  }
  const at = (e: PointerEvent): [number, number] => {
    const box = pad.current?.getBoundingClientRect()
    if (!box) return [0, 0]
    const part = (v: number, of: number) => Math.max(0, Math.min(1000, Math.round((v / of) * 1000)))
    return [part(e.clientX - box.left, box.width), part(e.clientY - box.top, box.height)]
  }
  return (
    <div className="max-w-md">
      <svg
        ref={pad}
        viewBox="0 0 1000 333"
        role="img"
        aria-label="Sign here"
        className="w-full cursor-crosshair touch-none rounded-lg border border-base-300 bg-base-100"
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId)
          stroke.current = []
          draw(at(e))
        }}
        onPointerMove={(e) => drawing && draw(at(e))}
        onPointerUp={(e) => {
          if (drawing) onChange([...strokes, [...stroke.current, at(e)]])
          setDrawing(null)
        }}
        onPointerCancel={() => setDrawing(null)}
      >
        <path d="M60 262H940" className="stroke-base-300" strokeWidth="3" />
        {strokes.length === 0 && !drawing && (
          <text x="60" y="305" fontSize="30" className="fill-secondary" aria-hidden>
            Sign over the line
          </text>
        )}
        {[...strokes, ...(drawing ? [drawing] : [])].map((s, n) => (
          <polyline
            key={n}
            points={s.map(([x, y]) => `${String(x)},${String(y / 3)}`).join(' ')}
            fill="none"
            stroke="currentColor"
            strokeWidth="5"
            strokeLinecap="round"
            strokeLinejoin="round"
          />
        ))}
      </svg>
      {strokes.length > 0 && (
        <button type="button" className="because" onClick={() => onChange([])}>
          wipe it and sign again
        </button>
      )}
    </div>
  )
}
