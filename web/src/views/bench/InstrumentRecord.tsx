import { Link, useParams } from 'react-router'
import { useBenchRecords, useHeader, useInstrumentFile } from '../../api/queries'
import { clockTime, fullDay, moment } from '../../words'
import { Steps } from './Record'
import { reasonWords } from './words'

/** All that was ever done to one instrument at the bench, made to be printed. */
export default function InstrumentRecord() {
  const { id = '' } = useParams()
  const { data: file, error } = useInstrumentFile(id)
  const { data: list } = useBenchRecords(id)
  const { data: header } = useHeader()
  if (error && !file) return <p role="alert">{error.message}</p>
  if (!file || !list) return <p className="quiet">Opening the book…</p>
  return (
    <section className="max-w-3xl">
      <h1>{file.listed.tag}: cleaned and disinfected</h1>
      <p className="quiet">
        {file.listed.kind_name} {file.instrument.serial && `· number ${file.instrument.serial}`}
        {header && ` · ${header.school}, ${fullDay(header.today)}`}
      </p>
      <p className="no-print my-2 flex gap-4">
        <button className="btn btn-sm" onClick={() => window.print()}>
          Print
        </button>
        <Link className="link self-center" to={`/instruments/${id}`}>
          Back to its file
        </Link>
      </p>
      {list.length === 0 && <p>It was not at the bench yet.</p>}
      {list.map((r) => (
        <section key={r.run} className="mt-4 break-inside-avoid">
          <h2>
            {r.finished_at && moment(r.finished_at)}: {r.title}{' '}
            <span className="quiet text-base">({reasonWords[r.reason]})</span>
          </h2>
          <p className="text-sm">{r.stays_held || (r.free_at && `Free from ${clockTime(r.free_at, true)}.`)}</p>
          <Steps record={r} />
        </section>
      ))}
    </section>
  )
}
