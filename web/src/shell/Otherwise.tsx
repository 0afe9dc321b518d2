import type { Schemas } from '../api/client'

/** What others do, and why: a disagreement of the trade is shown, not hidden. */
export function Otherwise({ held }: { held: Schemas['Alternative'][] | undefined }) {
  return held?.map((other) => (
    <p key={other.name} className="mt-2 border-l-2 border-accent pl-3 text-sm">
      <b>{other.name}.</b> {other.statement}
    </p>
  ))
}
