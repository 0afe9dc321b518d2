import { useState } from 'react'
import { Link } from 'react-router'
import { api, take, type Schemas } from '../../api/client'
import { refresh, useMay } from '../../api/queries'
import { useWrite } from '../../api/write'
import { Faults } from '../../shell/reading/Faults'
import { Questions, ReadingForm } from '../../shell/reading/ReadingForm'
import { UnknownKinds } from '../../shell/reading/UnknownKinds'
import { useReading, type Reading } from '../../shell/reading/useReading'
import { count } from '../../words'

type Report = Schemas['RosterReport']

/** Players from the school's roster: a dry run first, then all or nothing. */
export function Roster() {
  const may = useMay('change instruments')
  const [leavers, setLeavers] = useState(false)
  const [wanted, setWanted] = useState<Wanted>({ classes: [], years: [] })
  const send = useWrite({
    send: (v: { file: File; reading: Reading; wanted: Wanted; dry: boolean; leavers: boolean }) =>
      take(
        api.POST('/api/v1/players/roster', {
          params: { query: { dry_run: v.dry, leavers: v.leavers, reading: JSON.stringify(v.reading), ...v.wanted } },
          headers: { 'Content-Type': 'application/octet-stream' },
          body: v.file as unknown as string,
          bodySerializer: (body) => body,
        }),
      ),
    onSuccess: async (report) => {
      if (!report.dry_run && report.faults.length === 0) await refresh()
    },
  })
  const report = send.data
  const tryOut = (file: File, reading: Reading, wanted: Wanted) =>
    send.mutateAsync({ file, reading, wanted, dry: true, leavers: false })
  const { file, reading, choose, change } = useReading((file, reading) => tryOut(file, reading, wanted))
  if (!may) return <p>Only a director or an assistant brings players in.</p>
  return (
    <section className="max-w-3xl">
      <p>
        A OneRoster 1.1 archive (zip), a workbook (XLSX) or a CSV file. Players are known again by their id in the
        roster or by name, so the same file may come in as often as you like. Nothing is kept before you say so.
      </p>
      <p className="quiet mt-1 text-sm">
        Those who are here, as such a file:{' '}
        <a className="link" href="/api/v1/players.csv" download>
          download players.csv
        </a>{' '}
        or{' '}
        <a className="link" href="/api/v1/players.xlsx" download>
          players.xlsx
        </a>
      </p>
      <input
        type="file"
        className="file-input mt-3 w-full max-w-md"
        aria-label="Roster file"
        accept=".zip,.xlsx,.csv,.txt,.tsv,text/csv"
        onChange={(e) => {
          const chosen = e.currentTarget.files?.[0]
          if (!chosen) return
          setWanted({ classes: [], years: [] })
          choose(chosen)
        }}
      />
      {send.error && (
        <p role="alert" className="mt-2 text-error">
          {send.error.message}
        </p>
      )}
      {report?.dry_run && file && (
        <Parts
          report={report}
          wanted={wanted}
          change={(wanted) => {
            setWanted(wanted)
            tryOut(file, reading, wanted)
          }}
        />
      )}
      {report?.dry_run && <Questions as={report.as_read} change={change} />}
      {report?.dry_run && <UnknownKinds as={report.as_read} reading={reading} change={change} />}
      {report && report.as_read.questions.length === 0 && <Outcome report={report} />}
      {report?.dry_run && report.faults.length === 0 && report.as_read.questions.length === 0 && file && (
        <div className="mt-3">
          {report.leavers.length > 0 && (
            <label className="mb-3 flex cursor-pointer items-center gap-2">
              <input
                type="checkbox"
                className="checkbox checkbox-sm"
                checked={leavers}
                onChange={(e) => setLeavers(e.currentTarget.checked)}
              />
              Those who are missing have left
            </label>
          )}
          <button
            className="btn btn-primary"
            disabled={send.isPending}
            onClick={() => send.mutate({ file, reading, wanted, dry: false, leavers })}
          >
            Import {count(report.rows, 'player')}
          </button>
        </div>
      )}
      {report?.dry_run && <ReadingForm as={report.as_read} change={change} />}
    </section>
  )
}

type Wanted = { classes: string[]; years: string[] }

/** The classes and years of an archive; who wants none in particular wants all. */
function Parts({ report, wanted, change }: { report: Report; wanted: Wanted; change: (w: Wanted) => void }) {
  if (report.classes.length === 0) return null
  const group = (title: string, key: keyof Wanted, parts: Schemas['RosterPart'][]) => (
    <fieldset>
      <legend className="font-bold">{title}</legend>
      <div className="mt-1 flex flex-wrap gap-x-4 gap-y-1">
        {parts.map((p) => (
          <label key={p.name} className="flex cursor-pointer items-center gap-2 py-1 text-sm">
            <input
              type="checkbox"
              className="checkbox checkbox-sm"
              checked={wanted[key].includes(p.name)}
              onChange={(e) => {
                const others = wanted[key].filter((name) => name !== p.name)
                change({ ...wanted, [key]: e.currentTarget.checked ? [...others, p.name] : others })
              }}
            />
            {p.name || 'without one'} ({p.pupils})
          </label>
        ))}
      </div>
    </fieldset>
  )
  return (
    <div className="mt-4 grid gap-3">
      {group('Only these classes', 'classes', report.classes)}
      {group('Only these years', 'years', report.years)}
      <p className="quiet text-sm">Without a mark all come in.</p>
    </div>
  )
}

function Outcome({ report }: { report: Report }) {
  if (report.faults.length > 0) return <Faults faults={report.faults} unknown={report.as_read.unknown_kinds} />
  return (
    <div className="mt-4" role="status">
      <p className="font-bold">
        {report.dry_run ? 'Dry run' : 'Imported'}: {report.added} new, {report.changed} changed, {report.unchanged} as
        before.
      </p>
      {report.new_ensembles.length > 0 && (
        <p>
          {report.dry_run ? 'New ensembles will be made' : 'New ensembles'}: {report.new_ensembles.join(', ')}.
        </p>
      )}
      {!report.dry_run && (
        <p>
          Next:{' '}
          <Link className="link" to="/hand-out/players">
            say which ensemble each plays in
          </Link>
          , several at once, and{' '}
          <Link className="link" to="/hand-out">
            hand instruments out
          </Link>
          .
        </p>
      )}
      {report.leavers.length > 0 && (
        <p>
          In no roster any more:{' '}
          {report.leavers
            .map((l) => (l.holds.length > 0 ? `${l.name} (has ${l.holds.join(', ')})` : l.name))
            .join('; ')}
          .
        </p>
      )}
    </div>
  )
}
