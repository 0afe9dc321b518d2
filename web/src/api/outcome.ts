// What an answer that is not the one hoped for means for whoever asked. It is decided here and nowhere else.

export type Outcome =
  /** Nobody knows whether it was kept: no answer, one of a proxy in between, or a server in trouble. */
  | 'unknown'
  /** It was not kept, and the same may be kept soon: too much at once, no room, not ready. */
  | 'later'
  /** It was not kept, and whoever sent it must sign in first. */
  | 'signed out'
  /** It was not kept, and the same will not be. */
  | 'refused'

/** By the status of an answer; 0 is none. */
export function outcomeOf(status: number): Outcome {
  switch (status) {
    case 401:
      return 'signed out'
    case 425:
    case 429:
    case 503:
    case 507:
      return 'later'
    case 408:
      return 'unknown'
  }
  return status === 0 || status >= 500 ? 'unknown' : 'refused'
}
