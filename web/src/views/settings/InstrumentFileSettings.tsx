import { Link } from 'react-router'
import { api, Problem, take, type Schemas } from '../../api/client'
import { refresh, useMay } from '../../api/queries'
import { useWrite } from '../../api/write'
import { useNotice } from '../../shell/notice'
import { Faults } from '../../shell/reading/Faults'
import { Questions, ReadingForm } from '../../shell/reading/ReadingForm'
import { UnknownKinds } from '../../shell/reading/UnknownKinds'
import { useReading, type Reading } from '../../shell/reading/useReading'
import { count } from '../../words'

const megabytes = 5

/** Instruments from and to a file. The dry run comes first and changes nothing. */
export function InstrumentFileSettings() {
  const may = useMay('change instruments')
  const notice = useNotice()
  const send = useWrite({
    send: async ({ file, reading, dry }: { file: File; reading: Reading; dry: boolean }) => {
      if (file.size > megabytes << 20)
        throw new Problem(413, `${file.name} is larger than ${String(megabytes)} MB. Is it the right file?`)
      return take(
        api.POST('/api/v1/instruments/file', {
          params: { query: { dry_run: dry, reading: JSON.stringify(reading) } },
          body: file as unknown as string,
          bodySerializer: (body) => body,
          headers: { 'Content-Type': 'application/octet-stream' },
        }),
      )
    },
    onSuccess: async (report) => {
      if (report.dry_run || report.faults.length > 0) return
      if (report.events.length > 0) notice.show(`${count(report.added, 'instrument')} came in.`, report.events)
      await refresh()
    },
  })
  const { file, reading, choose, change } = useReading((file, reading) =>
    send.mutateAsync({ file, reading, dry: true }),
  )
  const report = send.data
  const ready = report?.dry_run && report.faults.length === 0 && report.as_read.questions.length === 0
  return (
    <div className="grid max-w-4xl gap-8">
      <section>
        <h2 className="mt-4">Bring instruments in</h2>
        <p className="quiet mt-1 text-sm">
          A list as you have it: a workbook (XLSX) or a CSV file with a line for each instrument. It needs a column with
          the <b>tag</b> and one with the <b>kind</b>, whatever they are called; the rest is named below once the file
          is read. What care was done last can stand there too, as a day in a column such as last:bow-rehair. A tag that
          is known already is changed, not doubled. A single one is{' '}
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
              accept=".csv,text/csv,.txt,.tsv,.xlsx"
              aria-label="Instrument file"
              className="file-input"
              onChange={(e) => {
                const chosen = e.currentTarget.files?.[0]
                if (chosen) choose(chosen)
              }}
            />
            {file && (
              <button
                className="btn btn-primary"
                disabled={!ready || send.isPending}
                onClick={() => send.mutate({ file, reading, dry: false })}
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
        {report?.dry_run && <Questions as={report.as_read} change={change} />}
        {report?.dry_run && <UnknownKinds as={report.as_read} reading={reading} change={change} />}
        {report && report.as_read.questions.length === 0 && <Report report={report} />}
        {report?.dry_run && <ReadingForm as={report.as_read} change={change} />}
      </section>
      <section>
        <h2>Take instruments out</h2>
        <p className="quiet mt-1 text-sm">
          The same file, with all that is known, for a spreadsheet or another program. It can be brought in again.
        </p>
        <div className="mt-3 flex flex-wrap gap-2">
          <a className="btn btn-outline btn-primary" href="/api/v1/instruments.xlsx" download>
            Download instruments.xlsx
          </a>
          <a className="btn btn-outline btn-primary" href="/api/v1/instruments.csv" download>
            Download instruments.csv
          </a>
        </div>
      </section>
    </div>
  )
}

function Report({ report }: { report: Schemas['ImportReport'] }) {
  if (report.faults.length > 0) return <Faults faults={report.faults} unknown={report.as_read.unknown_kinds} />
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
