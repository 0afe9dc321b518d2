import type { Schemas } from '../../api/client'
import { count } from '../../words'

/** What stands in the way of an import: a line for each fault, with all the rows that have it. */
export function Faults({ faults: all, unknown }: { faults: Schemas['Fault'][]; unknown: Schemas['UnknownKind'][] }) {
  // What is asked beside is no line to mend.
  const faults = all.filter((f) => !unknown.some((u) => u.text === f.value))
  if (faults.length === 0) return null
  return (
    <div role="alert" className="mt-4">
      <p className="font-bold text-error">Nothing was imported. {count(faults.length, 'place')} to mend in the file:</p>
      <div className="mt-2 max-h-[50vh] overflow-y-auto" tabIndex={0} role="region" aria-label="Places to mend">
        <table className="table table-sm">
          <thead>
            <tr>
              <th>Row</th>
              <th>Column</th>
              <th>What stands there</th>
              <th>What is wrong</th>
            </tr>
          </thead>
          <tbody>
            {faults.map((f, n) => (
              <tr key={n}>
                <td>{f.row > 0 ? rows([f.row, ...(f.more_rows ?? [])]) : ''}</td>
                <td>{f.column}</td>
                <td>
                  {f.value}
                  {f.more_rows && ' …'}
                </td>
                <td>{f.message}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </div>
  )
}

const most = 6

function rows(list: number[]) {
  const shown = list.slice(0, most).join(', ')
  return list.length > most ? `${shown} and ${String(list.length - most)} more` : shown
}
