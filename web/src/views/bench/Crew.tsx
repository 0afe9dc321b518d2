import type { Schemas } from '../../api/client'

export type Hands = { people: number; stations: Record<string, number>; minutes: number | null }

type Props = {
  hands: Hands
  stations: Schemas['StationHere'][]
  used: Schemas['StationHere'][]
  onChange: (hands: Hands) => void
}

/** Who and what there is, as a sentence with numbers to change. */
export function Crew({ hands, stations, used, onChange }: Props) {
  const shown = used.length > 0 ? stations.filter((s) => used.some((u) => u.key === s.key)) : stations.slice(0, 4)
  const number = (label: string, value: number | '', least: number, set: (n: number) => void) => (
    <label key={label} className="flex items-center gap-1.5">
      <span>{label}</span>
      <input
        type="number"
        className="input input-sm w-14 text-right"
        aria-label={label}
        min={least}
        max={200}
        value={value}
        onChange={(e) => {
          const n = e.currentTarget.valueAsNumber
          if (Number.isInteger(n) && n >= least) set(n)
          else if (e.currentTarget.value === '') set(Number.NaN)
        }}
      />
    </label>
  )
  return (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-2">
      {number('people', hands.people, 1, (n) => Number.isInteger(n) && onChange({ ...hands, people: n }))}
      {shown.map((s) =>
        number(s.name.toLowerCase(), hands.stations[s.key] ?? s.count, 0, (n) =>
          Number.isInteger(n) ? onChange({ ...hands, stations: { ...hands.stations, [s.key]: n } }) : undefined,
        ),
      )}
      {number('minutes until the bell', hands.minutes ?? '', 1, (n) =>
        onChange({ ...hands, minutes: Number.isInteger(n) ? n : null }),
      )}
    </div>
  )
}
