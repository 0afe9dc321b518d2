type Props = {
  label: string
  value: string
  onChange: (value: string) => void
  list: readonly (readonly [key: string, name: string])[]
  /** What an empty choice is called; left out where one must be made. */
  all?: string
}

/** A choice with its name above. */
export function Choice({ label, value, onChange, list, all }: Props) {
  return (
    <label className="flex flex-col text-sm">
      <span className="quiet">{label}</span>
      <select className="select select-sm" value={value} onChange={(e) => onChange(e.currentTarget.value)}>
        {all && <option value="">{all}</option>}
        {list.map(([key, name]) => (
          <option key={key} value={key}>
            {name}
          </option>
        ))}
      </select>
    </label>
  )
}
