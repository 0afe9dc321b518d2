import { TriangleAlert } from 'lucide-react'
import type { ReactNode } from 'react'

/** What has to be read before the step that it belongs to. */
export function Caution({ children }: { children: ReactNode }) {
  return (
    <p className="mb-2 flex gap-2 border-l-3 border-error pl-2 font-bold">
      <TriangleAlert size={18} className="mt-0.5 shrink-0 text-error" aria-label="Caution" />
      <span>{children}</span>
    </p>
  )
}
