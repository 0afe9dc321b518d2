import type { ReactNode } from 'react'

type Props = {
  label: string
  error?: string | undefined
  /** For a field in a table, whose column says what it is: the label is kept for those who cannot see the column. */
  inTable?: boolean | undefined
  children: ReactNode
}

/** A labelled input with what is wrong with it. */
export function Field({ label, error, inTable, children }: Props) {
  return (
    <label className="grid content-start gap-0.5">
      <span className={inTable ? 'text-sm sm:sr-only' : 'text-sm'}>{label}</span>
      {children}
      {error && <span className="text-sm text-error">{error}</span>}
    </label>
  )
}
