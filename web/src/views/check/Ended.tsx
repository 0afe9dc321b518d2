import { Link } from 'react-router'
import { drop, keep, type Draft } from '../../api/checks'
import { queryClient, type Schemas } from '../../api/client'
import { Triage } from '../../shell/Triage'
import { newID } from '../../api/id'

/** What came of the walk; or where it waits, and why. */
export function Ended({ sheet, draft }: { sheet: Schemas['Sheet']; draft: Draft }) {
  return (
    <article className="mx-auto max-w-2xl">
      <h1>
        {sheet.instrument.tag}{' '}
        <span className="font-normal">
          {sheet.instrument.kind_name} {sheet.instrument.size}
        </span>
      </h1>
      <div className="mt-3">{draft.result ? <Result judged={draft.result} /> : <Waiting draft={draft} />}</div>
      <p className="mt-5 flex gap-3">
        <Link className="btn btn-primary" to={`/instruments/${draft.instrument}`}>
          Open its file
        </Link>
        <Link className="btn" to="/room">
          To the room
        </Link>
      </p>
    </article>
  )
}

function Result({ judged }: { judged: Schemas['Judged'] }) {
  return (
    <>
      <Triage triage={judged.triage} findings={judged.findings} />
      {judged.findings.length > 0 && (
        <>
          <h2 className="mt-4">Open</h2>
          <ul className="list-disc pl-5">
            {judged.findings.map((f) => (
              <li key={f.id}>
                {f.name} <span className="quiet text-sm">{f.cause}</span>
              </li>
            ))}
          </ul>
        </>
      )}
      {judged.cleared.length > 0 && <p className="mt-3">No longer seen: {judged.cleared.join(', ').toLowerCase()}.</p>}
    </>
  )
}

function Waiting({ draft }: { draft: Draft }) {
  const { refused, ...clean } = draft
  if (!refused)
    return (
      <p role="status">
        The check is kept here and is being sent. If there is no network now, it goes as soon as there is; you may close
        this page.
      </p>
    )
  const again = (change: Partial<Draft>) => keep({ ...clean, sending: newID(), ...change })
  const photoless = () =>
    again({
      answers: Object.fromEntries(
        Object.entries(draft.answers).map(([point, a]) => [
          point,
          { ...a, findings: a.findings.map((f) => ({ ...f, photos: [] })) },
        ]),
      ),
    })
  return (
    <>
      <p role="alert" className="text-error">
        {'picture' in refused.fields
          ? `A photograph ${refused.fields.picture ?? ''}.`
          : `${refused.message} ${Object.values(refused.fields).join('; ')}`}
      </p>
      <p className="mt-1">All your answers are still here.</p>
      <p className="mt-3 flex flex-wrap gap-2">
        {'last_seen' in refused.fields && (
          <button className="btn btn-primary btn-sm" onClick={() => again({ despite: true })}>
            Save mine as well
          </button>
        )}
        {'picture' in refused.fields && (
          <button className="btn btn-primary btn-sm" onClick={photoless}>
            Send it without the photographs
          </button>
        )}
        <button className="btn btn-sm" onClick={() => void reopen(draft)}>
          Go through it again
        </button>
        <button className="btn btn-sm" onClick={() => drop(draft)}>
          Throw it away
        </button>
      </p>
    </>
  )
}

/** Opens the walk again on the present template, with the answers to points that are still there. */
async function reopen(draft: Draft) {
  await queryClient.invalidateQueries({ queryKey: ['sheet', draft.instrument] })
  const sheet = queryClient.getQueryData<Schemas['Sheet']>(['sheet', draft.instrument])
  if (!sheet) return
  const answers = Object.fromEntries(
    sheet.points.flatMap((p) => (draft.answers[p.key] ? [[p.key, draft.answers[p.key]] as const] : [])),
  ) as Draft['answers']
  const first = sheet.points.findIndex((p) => !answers[p.key])
  keep({
    ...draft,
    edition: sheet.edition,
    last_seen: sheet.last?.id ?? null,
    answers,
    finished: false,
    at: first < 0 ? sheet.points.length : first,
  })
}
