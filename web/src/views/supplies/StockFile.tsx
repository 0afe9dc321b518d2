import { api, take, type Schemas } from '../../api/client'
import { refresh } from '../../api/queries'
import { useWrite } from '../../api/write'
import { Faults } from '../../shell/reading/Faults'
import { Questions, ReadingForm } from '../../shell/reading/ReadingForm'
import { useReading, type Reading } from '../../shell/reading/useReading'
import { useNotice } from '../../shell/notice'
import { count } from '../../words'

/** Suppliers, prices and what is there, from the list that a school has: a dry run first, then all or nothing. */
export function StockFile({ onDone }: { onDone: () => void }) {
  const notice = useNotice()
  const send = useWrite({
    send: ({ file, reading, dry }: { file: File; reading: Reading; dry: boolean }) =>
      take(
        api.POST('/api/v1/supplies/file', {
          params: { query: { dry_run: dry, reading: JSON.stringify(reading) } },
          headers: { 'Content-Type': 'application/octet-stream' },
          body: file as unknown as string,
          bodySerializer: (body) => body,
        }),
      ),
    onSuccess: async (report) => {
      if (report.dry_run || report.faults.length > 0) return
      notice.show(`${count(report.changed, 'supply', 'supplies')} changed, ${String(report.counted)} counted.`)
      onDone()
      await refresh()
    },
  })
  const { file, reading, choose, change } = useReading((file, reading) =>
    send.mutateAsync({ file, reading, dry: true }),
  )
  const report = send.data
  const open = report?.as_read.questions.length ?? 0
  const ready = report?.dry_run && report.faults.length === 0 && open === 0
  return (
    <section aria-label="From a file" className="mt-3 max-w-3xl bg-base-200 p-4">
      <p className="text-sm">
        A workbook (XLSX) or a CSV file with a line for each supply: its name, and what you know of supplier, units in a
        pack, price of a pack and units in stock. What a line leaves empty stays as it is. What has no name here becomes
        a supply of your own. To fill one in, take what is here:{' '}
        <a className="link" href="/api/v1/supplies.xlsx" download>
          supplies.xlsx
        </a>{' '}
        or{' '}
        <a className="link" href="/api/v1/supplies.csv" download>
          supplies.csv
        </a>
        .
      </p>
      <input
        type="file"
        className="file-input mt-3 w-full max-w-md"
        aria-label="File of supplies"
        accept=".xlsx,.csv,.txt,.tsv,text/csv"
        onChange={(e) => {
          const chosen = e.currentTarget.files?.[0]
          if (chosen) void choose(chosen)
        }}
      />
      {send.error && (
        <p role="alert" className="mt-2 text-error">
          {send.error.message}
        </p>
      )}
      {report?.dry_run && <Questions as={report.as_read} change={change} />}
      {report && open === 0 && <Outcome report={report} />}
      {ready && file && (
        <button
          className="btn btn-primary mt-3"
          disabled={send.isPending || report.changed + report.counted === 0}
          onClick={() => send.mutate({ file, reading, dry: false })}
        >
          Bring them in
        </button>
      )}
      {report?.dry_run && <ReadingForm as={report.as_read} change={change} />}
    </section>
  )
}

function Outcome({ report }: { report: Schemas['FileReport'] }) {
  if (report.faults.length > 0) return <Faults faults={report.faults} unknown={[]} />
  return (
    <div role="status" className="mt-3 border-l-3 border-primary pl-3">
      <p>
        <b>Dry run: nothing wrong.</b> {report.changed} bought otherwise than before, {report.counted} counted
        otherwise, {report.unchanged} as they were.
      </p>
      {report.own.length > 0 && <p>New, and your own: {report.own.join(', ')}.</p>}
    </div>
  )
}
