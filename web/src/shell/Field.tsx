import type { ReactNode } from 'react'

/** A labelled input with what is wrong with it. */
export function Field({ label, error, children }: { label: string; error?: string | undefined; children: ReactNode }) {
  return (
    <label className="grid content-start gap-0.5">
      <span className="text-sm">{label}</span>
      {children}
      {error && <span className="text-sm text-error">{error}</span>}
    </label>
  )
}
