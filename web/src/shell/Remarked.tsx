import type { Schemas } from '../api/client'

type Props = { of: Schemas['Choice'][]; onFound: (code: string) => void; disabled?: boolean }

/** What the remark on an instrument may mean, to be looked into: nothing of it is noted before somebody says so. */
export function Remarked({ of, onFound, disabled }: Props) {
  if (of.length === 0) return null
  return (
    <p className="mt-1 flex flex-wrap items-center gap-2">
      The remark may mean, if you find it so:
      {of.map((choice) => (
        <button
          key={choice.key}
          type="button"
          className="btn btn-outline btn-xs"
          disabled={disabled}
          aria-label={`It is so: ${choice.name}`}
          onClick={() => onFound(choice.key)}
        >
          {choice.name}
        </button>
      ))}
    </p>
  )
}
