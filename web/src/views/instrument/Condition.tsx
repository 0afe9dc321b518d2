import { useState } from 'react'
import { Link } from 'react-router'
import { api, take, type Schemas } from '../../api/client'
import { refresh, useMay } from '../../api/queries'
import { useWrite } from '../../api/write'
import { Drawing } from '../../drawings/Drawing'
import { useEntry } from '../../shell/entry'
import { useNotice } from '../../shell/notice'
import { Remarked } from '../../shell/Remarked'
import { Triage } from '../../shell/Triage'
import { Portrait } from './Portrait'
import { moment } from '../../words'

type Finding = Schemas['FileFinding']

/** The drawing of the instrument with what was found on it, the gravest first. */
export function Condition({ file }: { file: Schemas['File'] }) {
  const { findings, listed } = file
  const found = findings
    .map((f, n) => ({ key: f.id, number: n + 1, spot: f.spot, title: f.name, tone: 'found' as const }))
    .filter((p) => p.spot !== '')
  const points = found.length > 0 ? found : file.points.map((p, n) => ({ ...p, number: n + 1 }))
  return (
    <section aria-label="Condition" className="grid gap-6 sm:grid-cols-[minmax(200px,280px)_1fr]">
      <div>
        <Drawing
          name={listed.drawing}
          label={`Drawing of a ${listed.kind_name.toLowerCase()}`}
          points={points}
          className="mx-auto max-h-80 w-full max-w-72"
        />
        {found.length === 0 && (
          <ol className="mt-2 columns-2 text-sm" aria-label="Points of the drawing">
            {points.map((p) => (
              <li key={p.key}>
                <b className="inline-block w-5 text-primary">{p.number}</b> {p.title}
              </li>
            ))}
          </ol>
        )}
        <Portrait file={file} />
        <p className="quiet mt-2 text-center text-sm">{file.known[0]}</p>
      </div>
      <div>
        <Triage triage={file.triage} findings={findings} />
        {file.instrument.notes && (
          <div className="mt-3">
            <p>
              Remark in the school’s list: <span className="italic">“{file.instrument.notes}”</span>
            </p>
            <FromRemark file={file} />
          </div>
        )}
        {findings.length === 0 && (
          <p className="mt-3">
            {listed.never_seen ? 'Nothing is noted of it.' : 'Nothing is open.'}{' '}
            <Link className="link" to={`/instruments/${listed.id}/check`}>
              Walk along it
            </Link>{' '}
            or{' '}
            <Link className="link" to={`/instruments/${listed.id}/diagnose`}>
              say what is wrong
            </Link>
            .
          </p>
        )}
        <ol className="mt-2">
          {findings.map((f, n) => (
            <OneFinding key={f.id} finding={f} number={n + 1} />
          ))}
        </ol>
      </div>
    </section>
  )
}

/** Findings that the remark may mean, each noted with one tap. */
function FromRemark({ file }: { file: Schemas['File'] }) {
  const notice = useNotice()
  const may = useMay('inspect')
  const note = useWrite({
    send: (code: string, id) =>
      take(
        api.POST('/api/v1/instruments/{id}/findings', {
          params: { path: { id: file.listed.id } },
          body: { id: id(), code, note: file.instrument.notes.slice(0, 500), photos: [] },
        }),
      ),
    onSuccess: async (result) => {
      notice.show('Noted.', result.events)
      await refresh()
    },
    onError: (problem) => notice.show(problem.message),
  })
  if (!may) return null
  return <Remarked of={file.remarked} disabled={note.isPending} onFound={(code) => note.mutate(code)} />
}

function OneFinding({ finding: f, number }: { finding: Finding; number: number }) {
  const [clearing, setClearing] = useState(false)
  const mayClear = useMay(f.action === 'stop' ? 'clear stops' : 'finish care')
  return (
    <li className="line py-2">
      <div className="flex items-baseline gap-2">
        <b className="text-error">{number}</b>
        <h2 className="font-sans text-base font-bold">
          {f.name} <span className="quiet block text-sm font-normal">{f.next}</span>
        </h2>
        {mayClear && !clearing && (
          <button
            className="btn no-print btn-outline btn-primary btn-xs ml-auto"
            aria-label={`Clear: ${f.name}`}
            onClick={() => setClearing(true)}
          >
            Clear
          </button>
        )}
      </div>
      <p className="text-sm">
        {f.seen} {f.measured !== undefined && <b>Measured {f.measured.toFixed(1)}.</b>}
      </p>
      <p className="quiet text-sm">
        {f.cause} {f.avoidable ? 'Avoidable.' : 'Wear, nobody’s fault.'} Found {moment(f.found_at)}
        {f.point_title && `, ${f.point_title.toLowerCase()}`}.
      </p>
      {f.note && <p className="mt-1 text-sm whitespace-pre-line italic">{f.note}</p>}
      {f.photos.length > 0 && (
        <p className="mt-1 flex flex-wrap gap-2">
          {f.photos.map((p) => (
            <a key={p.id} href={`/api/v1/photos/${p.id}`} target="_blank" rel="noreferrer">
              <img
                src={`/api/v1/photos/${p.id}?thumbnail=true`}
                alt={`Photograph of ${f.name.toLowerCase()}`}
                className="h-20 rounded-md"
              />
            </a>
          ))}
        </p>
      )}
      {f.fixed_by && (
        <Link className="because" to={`?routine=${f.fixed_by}`}>
          how it is mended at school
        </Link>
      )}
      {clearing && <Clear finding={f} onLeave={() => setClearing(false)} />}
    </li>
  )
}

function Clear({ finding, onLeave }: { finding: Finding; onLeave: () => void }) {
  const notice = useNotice()
  const { register, submit } = useEntry({ defaultValues: { how: '' } })
  const clear = useWrite({
    send: (body: { how: string }) =>
      take(
        api.POST('/api/v1/findings/{id}/clear', {
          params: { path: { id: finding.id } },
          body,
        }),
      ),
    onSuccess: async (result) => {
      notice.show(`Cleared: ${finding.name}.`, result.events)
      await refresh()
    },
  })
  return (
    <form className="mt-2 flex flex-wrap items-center gap-2" onSubmit={submit((v) => clear.mutate(v))}>
      <input
        className="input input-sm min-w-52 flex-1"
        aria-label="How it was put right"
        placeholder={finding.action === 'stop' ? 'Who mended it, and how' : 'How it was put right'}
        autoFocus
        {...register('how')}
      />
      <button className="btn btn-primary btn-sm" disabled={clear.isPending}>
        Clear it
      </button>
      <button type="button" className="btn btn-sm" onClick={onLeave}>
        Leave it
      </button>
      {clear.error && (
        <p role="alert" className="w-full text-sm text-error">
          {clear.wrong.how ?? clear.error?.message}
        </p>
      )}
    </form>
  )
}
