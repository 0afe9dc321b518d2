const irregular: Record<string, string> = { patch: 'patches', tub: 'tubs' }

/** "3 bottles", "1 reed", "2.5 packs". */
export const units = (n: number, unit: string) =>
  `${String(Math.round(n * 10) / 10)} ${n === 1 ? unit : (irregular[unit] ?? `${unit}s`)}`
