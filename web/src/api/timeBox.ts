type Part = 'minutes' | 'helpers'

/** What this machine keeps of Today's time box; undefined where nobody changed it. */
export const keptOfBox = (part: Part) => {
  const kept = localStorage.getItem(`solfeggio-${part}`)
  return kept === null ? undefined : Number(kept)
}
export const keepOfBox = (part: Part, n: number) => localStorage.setItem(`solfeggio-${part}`, String(n))
