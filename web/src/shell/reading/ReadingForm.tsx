import type { AsRead, Reading } from './useReading'

/** How a file was read: its sheet and header, and which column is which. */
export function ReadingForm({ as, change }: { as: AsRead; change: (part: Reading) => void }) {
  if (as.columns.length === 0) return null
  const unread = as.columns.filter((c) => !c.ours)
  const said = Object.fromEntries(as.columns.map((c) => [c.theirs, c.ours]))
  return (
    <div className="mt-4 grid gap-4">
      <details className="max-w-3xl" open={unread.length > 0}>
        <summary className="cursor-pointer font-bold">
          Which column is which
          {unread.length > 0 && (
            <span className="quiet font-normal">. Not read: {unread.map((c) => c.theirs).join(', ')}</span>
          )}
        </summary>
        <div className="mt-2 flex flex-wrap items-center gap-4 text-sm">
          {as.sheets.length > 1 && (
            <label className="flex items-center gap-2">
              Sheet
              <select
                className="select select-sm"
                value={as.sheet}
                onChange={(e) => change({ sheet: e.currentTarget.value })}
              >
                {as.sheets.map((name) => (
                  <option key={name}>{name}</option>
                ))}
              </select>
            </label>
          )}
          <label className="flex items-center gap-2">
            The names stand in row
            <input
              className="input input-sm w-20"
              type="number"
              min={1}
              key={as.header_row}
              defaultValue={as.header_row}
              onBlur={(e) => {
                const row = e.currentTarget.valueAsNumber
                if (row >= 1 && row !== as.header_row) change({ header_row: row })
              }}
            />
          </label>
        </div>
        <table className="table table-sm mt-2">
          <thead>
            <tr>
              <th>In the file</th>
              <th>First entry</th>
              <th>Is</th>
            </tr>
          </thead>
          <tbody>
            {as.columns.map((c) => (
              <tr key={c.theirs}>
                <th scope="row" className="font-bold">
                  {c.theirs}
                </th>
                <td className="max-w-48 truncate">{c.example}</td>
                <td>
                  <select
                    className="select select-sm w-full"
                    aria-label={`What ${c.theirs} is`}
                    value={c.ours}
                    onChange={(e) => {
                      const ours = e.currentTarget.value
                      // One that had this meaning so far loses it.
                      const rest = Object.fromEntries(
                        Object.entries(said).map(([theirs, is]) => [theirs, is === ours ? '' : is]),
                      )
                      change({ columns: { ...rest, [c.theirs]: ours } })
                    }}
                  >
                    <option value="">not read</option>
                    {c.ours && !as.known.some((k) => k.name === c.ours) && <option>{c.ours}</option>}
                    {as.known.map((k) => (
                      <option key={k.name} value={k.name}>
                        {k.words}
                      </option>
                    ))}
                  </select>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </details>
      {as.remarks.map((text) => (
        <p key={text} className="quiet text-sm">
          {text}
        </p>
      ))}
    </div>
  )
}

/** What only a person can say, asked once for the file. */
export function Questions({ as, change }: { as: AsRead; change: (part: Reading) => void }) {
  return as.questions.map((q) => (
    <fieldset key={q.about} className="mt-4 max-w-2xl border-l-3 border-warning pl-3">
      <legend className="sr-only">{q.text}</legend>
      <p>
        <b>{q.text}</b> {q.rows > 1 && `So it is in ${String(q.rows)} rows.`}
      </p>
      <div className="mt-2 flex flex-wrap gap-2">
        {q.answers.map((a) =>
          a.value ? (
            <button
              key={a.value}
              type="button"
              className="btn btn-outline btn-primary"
              onClick={() => change({ [q.about]: q.about === 'restore_sizes' ? true : a.value })}
            >
              {a.text}
            </button>
          ) : (
            <span key="by hand" className="quiet self-center text-sm">
              or: {a.text}
            </span>
          ),
        )}
      </div>
    </fieldset>
  ))
}
