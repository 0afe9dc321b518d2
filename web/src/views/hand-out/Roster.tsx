import { useState } from 'react'
import { api, take, type Schemas } from '../../api/client'
import { refresh, useMay } from '../../api/queries'
import { useWrite } from '../../api/write'
import { count } from '../../words'

type Report = Schemas['RosterReport']

const fields: [string, string][] = [
  ['external_id', 'Id in the roster'],
  ['given_name', 'Given name'],
  ['family_name', 'Family name'],
  ['grade_year', 'Year'],
  ['ensembles', 'Ensembles, divided by ;'],
  ['instrument', 'Instrument'],
  ['transport', 'Travels by'],
  ['reed_strength', 'Strength of the reeds'],
  ['arm_length_cm', 'Arm, cm'],
  ['height_cm', 'Height, cm'],
  ['practice_minutes_per_week', 'Practice, minutes a week'],
]

/** Players from the school's roster: a dry run first, then all or nothing. */
export function Roster() {
  const may = useMay('change instruments')
  const [file, setFile] = useState<File>()
  const [mapping, setMapping] = useState<Record<string, string>>({})
  const [leavers, setLeavers] = useState(false)
  const send = useWrite({
    send: (v: { file: File; mapping: Record<string, string>; dry: boolean; leavers: boolean }) => {
      const query = { dry_run: v.dry, leavers: v.leavers, mapping: JSON.stringify(v.mapping) }
      return take(
        api.POST('/api/v1/players/roster', {
          params: { query },
          headers: { 'Content-Type': 'application/octet-stream' },
          body: v.file as unknown as string,
          bodySerializer: (body) => body,
        }),
      )
    },
    onSuccess: async (report) => {
      if (!report.dry_run && report.faults.length === 0) await refresh()
    },
  })
  const report = send.data
  const tryOut = (f: File, m: Record<string, string>) => send.mutate({ file: f, mapping: m, dry: true, leavers: false })
  if (!may) return <p>Only a director or an assistant brings players in.</p>
  return (
    <section className="max-w-3xl">
      <p>
        A OneRoster 1.1 archive (zip) or a CSV file. Players are known again by their id in the roster or by name, so
        the same file may come in as often as you like. Nothing is kept before you say so.
      </p>
      <p className="quiet mt-1 text-sm">
        Those who are here, as such a file:{' '}
        <a className="link" href="/api/v1/players.csv" download>
          download players.csv
        </a>
      </p>
      <input
        type="file"
        className="file-input mt-3 w-full max-w-md"
        aria-label="Roster file"
        accept=".zip,.csv,text/csv"
        onChange={(e) => {
          const chosen = e.currentTarget.files?.[0]
          if (!chosen) return
          setFile(chosen)
          setMapping({})
          tryOut(chosen, {})
        }}
      />
      {send.error && (
        <p role="alert" className="mt-2 text-error">
          {send.error.message}
        </p>
      )}
      {report && report.columns.length > 0 && file && report.dry_run && (
        <section className="mt-4" aria-labelledby="columns">
          <h2 id="columns">Which column is which</h2>
          <div className="mt-2 grid gap-2 sm:grid-cols-2">
            {fields.map(([ours, name]) => (
              <label key={ours} className="flex items-center gap-2 text-sm">
                <span className="w-44">{name}</span>
                <select
                  className="select select-sm flex-1"
                  aria-label={name}
                  value={
                    Object.keys(mapping).find((theirs) => mapping[theirs] === ours) ??
                    (report.columns.includes(ours) ? ours : '')
                  }
                  onChange={(e) => {
                    const next = Object.fromEntries(Object.entries(mapping).filter(([, to]) => to !== ours))
                    if (e.currentTarget.value) next[e.currentTarget.value] = ours
                    setMapping(next)
                    tryOut(file, next)
                  }}
                >
                  <option value="">not in the file</option>
                  {report.columns.map((c) => (
                    <option key={c}>{c}</option>
                  ))}
                </select>
              </label>
            ))}
          </div>
        </section>
      )}
      {report && <Outcome report={report} />}
      {report?.dry_run && report.faults.length === 0 && file && (
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
            onClick={() => send.mutate({ file, mapping, dry: false, leavers })}
          >
            Import {count(report.rows, 'player')}
          </button>
        </div>
      )}
    </section>
  )
}

function Outcome({ report }: { report: Report }) {
  if (report.faults.length > 0)
    return (
      <div className="mt-4">
        <p className="font-bold text-error">Nothing was imported. {count(report.faults.length, 'place')} to mend:</p>
        <ul className="mt-1">
          {report.faults.slice(0, 50).map((f, n) => (
            <li key={n} className="line py-1 text-sm">
              {f.row > 0 && <b>Row {f.row}</b>} {f.column} {f.value && <q>{f.value}</q>} {f.message}
            </li>
          ))}
        </ul>
      </div>
    )
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
