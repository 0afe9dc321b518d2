const kept = 'solfeggio-label-sheet'

/** The key of the sheet of labels that was printed on last, on this machine; empty for none. */
export const labelSheet = () => localStorage.getItem(kept) ?? ''
export const keepLabelSheet = (key: string) => localStorage.setItem(kept, key)
