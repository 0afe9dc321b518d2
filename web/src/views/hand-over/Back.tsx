import { Link, useNavigate, useParams } from 'react-router'
import { api, onceKey, Problem, take, type Schemas } from '../../api/client'
import { refresh, useReturnSheet } from '../../api/queries'
import { Caution } from '../../shell/Caution'
import { Field } from '../../shell/Field'
import type { FoundDetail } from '../../shell/FindingDetail'
import { KitStates } from '../../shell/KitStates'
import { useNotice } from '../../shell/notice'
import { centsOf, count, fullDay, inText, moment } from '../../words'
import { ChargeForm, noCharge, type Charging } from './ChargeForm'
import { useDraft } from '../../api/drafts'
import { useWrite } from '../../api/write'
import { NewFindings } from './NewFindings'
import { newID } from '../../api/id'

type Sheet = Schemas['ReturnSheet']

type Draft = {
  sending: string
  findings: FoundDetail[]
  kit: Record<string, Schemas['KitThing']['state']>
  reported: string
  charge: Charging
}

const fresh = (): Draft => ({ sending: newID(), findings: [], kit: {}, reported: '', charge: noCharge })

/** A return: only what changed since it went out. */
export default function Back() {
  const { id = '' } = useParams()
  const { data: sheet, error } = useReturnSheet(id)
  if (error && !sheet)
    return (
      <p role="alert">
        {error.message}{' '}
        <Link className="link" to={`/instruments/${id}`}>
          Its file
        </Link>
      </p>
    )
  if (!sheet) return <p className="quiet">Laying the two side by side…</p>
  return <OneReturn key={id} id={id} sheet={sheet} />
}

function OneReturn({ id, sheet }: { id: string; sheet: Sheet }) {
  const { draft, change, forget } = useDraft(`back/${id}/${sheet.given_at ?? ''}`, fresh)
  const notice = useNotice()
  const navigate = useNavigate()
  const { tag, rented } = sheet.instrument
  const back = useWrite({
    send: () =>
      take(
        api.POST('/api/v1/instruments/{id}/return', {
          params: { path: { id }, header: onceKey(draft.sending) },
          body: {
            findings: draft.findings,
            kit: draft.kit,
            reported: draft.reported,
            ...(draft.charge.asked
              ? {
                  charge: {
                    repair_cents: centsOf(draft.charge.repair) ?? 0,
                    avoidable: true,
                    amount_cents: centsOf(draft.charge.amount) ?? 0,
                    reason: draft.charge.reason,
                  },
                }
              : {}),
          },
        }),
      ),
    onSuccess: async (result) => {
      notice.show(`${tag} is back, and held until its turnover is done.`, result.events)
      forget()
      await refresh()
      void navigate(`/instruments/${id}`)
    },
    onError: (problem) => {
      if (problem instanceof Problem && !problem.passing) change({ sending: newID() })
    },
  })
  const { wrong } = back
  const gone = sheet.kit.filter((t) => (draft.kit[t.supply] ?? t.state) === 'missing' && t.went_out !== 'missing')
  const avoidable = [...sheet.new, ...draft.findings].some((f) => f.avoidable)
  return (
    <section aria-label="Return">
      <h1>
        {tag}{' '}
        <span className="font-normal">
          {sheet.instrument.kind_name} {sheet.instrument.size} comes back{sheet.player && ` from ${sheet.player}`}
        </span>
      </h1>
      <p className="quiet">
        {sheet.given_at ? `Out since ${moment(sheet.given_at)}` : 'Nobody is named who answered for it'}
        {sheet.due_back_on && `, due back ${fullDay(sheet.due_back_on)}`}.
      </p>
      <div className="mt-3">
        {sheet.cautions.map((c) => (
          <Caution key={c}>{c}</Caution>
        ))}
      </div>
      <div className="mt-2 grid gap-x-10 gap-y-6 lg:grid-cols-2">
        <div>
          <h2>Changed since it went out</h2>
          {sheet.new.length === 0 && draft.findings.length === 0 && <p className="quiet">Nothing is noted.</p>}
          <ul>
            {sheet.new.map((f) => (
              <li key={f.id} className="line py-1">
                <b>{f.name}</b> <span className="quiet text-sm">{f.note || f.seen}</span>{' '}
                <span className={`text-sm ${f.avoidable ? 'text-warning' : 'quiet'}`}>
                  {f.avoidable ? 'Avoidable.' : 'Wear.'} {f.cause}
                </span>
              </li>
            ))}
          </ul>
          <NewFindings
            instrument={id}
            label="Add what is new"
            answers={sheet.answers}
            found={draft.findings}
            errors={wrong}
            onChange={(findings) => change({ findings })}
          />
          {(sheet.before.length > 0 || sheet.mended.length > 0) && (
            <p className="quiet mt-2 text-sm">
              {sheet.before.length > 0 && `Known when it went out: ${sheet.before.map((f) => f.name).join(', ')}. `}
              {sheet.mended.length > 0 && `Mended since: ${sheet.mended.join(', ')}.`}
            </p>
          )}
          {sheet.photos.length > 0 && (
            <p className="mt-2 flex flex-wrap gap-2" aria-label="Photographs from the hand-out">
              {sheet.photos.map((p) => (
                <a key={p.id} href={`/api/v1/photos/${p.id}`} target="_blank" rel="noreferrer">
                  <img
                    src={`/api/v1/photos/${p.id}?thumbnail=true`}
                    alt={`${tag} as it went out`}
                    className="h-20 rounded-md"
                  />
                </a>
              ))}
            </p>
          )}
          <div className="mt-4">
            <Field label="What the player says of it">
              <textarea
                className="textarea w-full"
                rows={2}
                maxLength={2000}
                value={draft.reported}
                onChange={(e) => change({ reported: e.currentTarget.value })}
              />
            </Field>
          </div>
          {sheet.player && !rented && (
            <ChargeForm
              id={id}
              charge={draft.charge}
              avoidable={avoidable}
              errors={wrong}
              onChange={(charge) => change({ charge })}
            />
          )}
          {rented && (
            <p className="quiet mt-4 text-sm">It is rented: the owner is told of damage, and decides what is asked.</p>
          )}
        </div>
        <div>
          <h2>
            Its kit{' '}
            {gone.length > 0 && (
              <span className="font-sans text-sm font-normal text-warning">
                {count(gone.length, 'thing')} missing since: {gone.map((t) => inText(t.name)).join(', ')}
              </span>
            )}
          </h2>
          <KitStates
            things={sheet.kit}
            states={draft.kit}
            onChange={(supply, state) => change({ kit: { ...draft.kit, [supply]: state } })}
          />
        </div>
      </div>
      {back.error && (
        <p role="alert" className="mt-3 text-error">
          {back.error.message} What you noted is kept here.
        </p>
      )}
      <div className="mt-5 flex gap-3">
        <button className="btn btn-primary" disabled={back.isPending} onClick={() => back.mutate()}>
          Take it back
        </button>
        <Link className="btn" to={`/instruments/${id}`}>
          Leave it for now
        </Link>
      </div>
    </section>
  )
}
