import { useState } from 'react'
import { Link } from 'react-router'
import { api, Problem, take, type Schemas } from '../../api/client'
import { refresh, useMay } from '../../api/queries'
import { useWrite } from '../../api/write'
import { useNotice } from '../../shell/notice'
import { count } from '../../words'

const megabytes = 5

/** Instruments from and to a CSV file. The dry run comes first and changes nothing. */
export function InstrumentFileSettings() {
  const may = useMay('change instruments')
  const notice = useNotice()
  const [file, setFile] = useState<File | null>(null)
  const send = useWrite({
    send: async ({ file, dry }: { file: File; dry: boolean }) => {
      if (file.size > megabytes << 20)
        throw new Problem(413, `${file.name} is larger than ${String(megabytes)} MB. Is it the right file?`)
      return take(
        api.POST('/api/v1/instruments.csv', {
          params: { query: { dry_run: dry } },
          body: file as unknown as string,
          bodySerializer: (body) => body,
          headers: { 'Content-Type': 'text/csv' },
        }),
      )
    },
    onSuccess: async (report) => {
      if (report.dry_run) return
      if (report.events.length > 0) notice.show(`${count(report.added, 'instrument')} came in.`, report.events)
      await refresh()
    },
  })
  const report = send.data
  const ready = report?.dry_run && report.faults.length === 0
  return (
    <div className="grid max-w-4xl gap-8">
      <section>
        <h2 className="mt-4">Bring instruments in</h2>
        <p className="quiet mt-1 text-sm">
          A CSV file in UTF-8 with a line for each instrument. It needs the columns <b>tag</b> and <b>kind</b>; it may
          have size, body, maker, model, serial, room, slot, acquired_on, price, bow_value, care_from, notes, ensembles
          (divided by |), practice_minutes_per_week, practice_days_per_week, players, heavy_sweat, and the day on which
          care was last done, such as last:bow-rehair. A tag that is known already is changed, not doubled. A single one
          is{' '}
          <Link className="link" to="/room/add">
            added by hand
          </Link>
          .
        </p>
        <p className="mt-1 text-sm">
          <a className="link" href="/example-instruments.csv" download>
            An example to fill in
          </a>
        </p>
        {may ? (
          <div className="mt-3 flex flex-wrap items-center gap-3">
            <input
              type="file"
              accept=".csv,text/csv,.txt,.tsv"
              aria-label="Instrument file"
              className="file-input"
              onChange={(e) => {
                const chosen = e.currentTarget.files?.[0] ?? null
                setFile(chosen)
                send.reset()
                if (chosen) send.mutate({ file: chosen, dry: true })
              }}
            />
            {file && (
              <button
                className="btn btn-primary"
                disabled={!ready || send.isPending}
                onClick={() => send.mutate({ file, dry: false })}
              >
                {ready ? `Import ${count(report.added + report.changed, 'instrument')}` : 'Import'}
              </button>
            )}
            {send.isPending && <span role="status">Reading the file…</span>}
          </div>
        ) : (
          <p className="mt-2">Only a director or an assistant brings instruments in.</p>
        )}
        {send.error && (
          <p role="alert" className="mt-2 text-error">
            {send.error.message}
          </p>
        )}
        {report && <Report report={report} />}
      </section>
      <section>
        <h2>Take instruments out</h2>
        <p className="quiet mt-1 text-sm">
          The same file, with all that is known, for a spreadsheet or another program. It can be brought in again.
        </p>
        <a className="btn btn-outline btn-primary mt-3" href="/api/v1/instruments.csv" download>
          Download instruments.csv
        </a>
      </section>
    </div>
  )
}

function Report({ report }: { report: Schemas['ImportReport'] }) {
  if (report.faults.length > 0)
    return (
      <div role="alert" className="mt-4">
        <p className="font-bold text-error">
          Nothing was imported. {count(report.faults.length, 'place')} to mend in the file:
        </p>
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
              {report.faults.map((f, n) => (
                <tr key={n}>
                  <td>{f.row > 0 ? f.row : ''}</td>
                  <td>{f.column}</td>
                  <td>{f.value}</td>
                  <td>{f.message}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      </div>
    )
  return (
    <div role="status" className="mt-4 border-l-3 border-primary pl-3">
      <p>
        <b>
          {report.dry_run
            ? `Dry run: ${count(report.rows, 'row')}, nothing wrong.`
            : `Imported ${count(report.added + report.changed, 'instrument')}.`}
        </b>{' '}
        {report.added} new, {report.changed} changed, {report.unchanged} as they were.
      </p>
      {report.new_ensembles.length > 0 && (
        <p>
          {report.dry_run ? 'New ensembles will be made' : 'New ensembles were made'}: {report.new_ensembles.join(', ')}
          . Their rehearsals are entered under{' '}
          <Link className="link" to="/settings/ensembles">
            Ensembles
          </Link>
          .
        </p>
      )}
      {report.no_history > 0 && (
        <p>
          For {count(report.no_history, 'instrument')} the file says nothing of earlier care: their clocks begin today.
        </p>
      )}
      {!report.dry_run && (
        <p>
          <Link className="link" to="/">
            See what is due today
          </Link>
          .
        </p>
      )}
    </div>
  )
}
