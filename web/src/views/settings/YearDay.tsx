const months = Array.from({ length: 12 }, (_, n) => new Date(2026, n, 1).toLocaleDateString('en-GB', { month: 'long' }))

type Props = { label: string; value: string; onChange: (value: string) => void; error?: string | undefined }

/** A day in any year, kept as month and day with a dash between. */
export function YearDay({ label, value, onChange, error }: Props) {
  const [month = '01', day = '01'] = value.split('-')
  return (
    <fieldset>
      <legend className="text-sm">{label}</legend>
      <span className="mt-0.5 grid grid-cols-[80px_1fr] gap-2">
        <input
          className="input w-full"
          type="number"
          min={1}
          max={31}
          required
          aria-label={`${label}: day`}
          value={Number(day)}
          onChange={(e) => onChange(`${month}-${e.currentTarget.value.padStart(2, '0')}`)}
        />
        <select
          className="select w-full"
          aria-label={`${label}: month`}
          value={month}
          onChange={(e) => onChange(`${e.currentTarget.value}-${day}`)}
        >
          {months.map((name, n) => (
            <option key={name} value={String(n + 1).padStart(2, '0')}>
              {name}
            </option>
          ))}
        </select>
      </span>
      {error && <span className="text-sm text-error">{error}</span>}
    </fieldset>
  )
}
