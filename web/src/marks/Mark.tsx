// The marks of the house, drawn from notation: shape first, colour second. Each head sits in a cell of 24 × 32.
import { useWords } from '../api/words'

export type MarkName = 'ready' | 'opens' | 'due' | 'late' | 'player' | 'held' | 'shop' | 'stopped'

const stroke = { fill: 'none', stroke: 'currentColor', strokeLinecap: 'round', strokeLinejoin: 'round' } as const
const Head = () => <ellipse cx="12" cy="22" rx="6.4" ry="4.7" transform="rotate(-20 12 22)" />

const shapes: Record<MarkName, React.ReactNode> = {
  ready: <Head />,
  opens: (
    <ellipse
      cx="12"
      cy="22"
      rx="5.4"
      ry="3.5"
      transform="rotate(-20 12 22)"
      fill="none"
      stroke="currentColor"
      strokeWidth="2"
    />
  ),
  due: (
    <>
      <path {...stroke} strokeWidth="2" d="M6 9l12 3.2L6 15.4" />
      <Head />
    </>
  ),
  late: (
    <>
      <path {...stroke} strokeWidth="2" d="M6 3l12 3.2L6 9.4M6 9.4l12 3.2L6 15.8" />
      <Head />
    </>
  ),
  player: (
    <>
      <path stroke="currentColor" strokeWidth="1.6" d="M17.9 20.5V3" />
      <Head />
    </>
  ),
  held: (
    <>
      <path {...stroke} strokeWidth="2.2" d="M3 20a9 9 0 0 1 18 0" />
      <circle cx="12" cy="18.5" r="2" />
    </>
  ),
  shop: (
    <>
      <circle cx="6.5" cy="14" r="1.9" />
      <circle cx="6.5" cy="22" r="1.9" />
      <path d="M11 7h1.6v22H11zM15 7h3.6v22H15z" />
    </>
  ),
  stopped: <path {...stroke} strokeWidth="2.4" d="M9.5 5l5 6-3.8 4.6 4.6 5.6c-4-1.5-6.6.6-4 4.8" />,
}

const tone: Partial<Record<MarkName, string>> = { due: 'text-warning', late: 'text-error', stopped: 'text-error' }

export function Mark({ name, className = '' }: { name: MarkName; className?: string }) {
  const { mark } = useWords()
  return (
    <svg
      viewBox="0 0 24 32"
      role="img"
      aria-label={mark(name)}
      className={`h-[29px] w-[22px] shrink-0 fill-current ${tone[name] ?? ''} ${className}`}
    >
      {shapes[name]}
    </svg>
  )
}

/** The mark of a clock's state. */
export const markOf = { fresh: 'ready', opening: 'opens', due: 'due', late: 'late' } as const
