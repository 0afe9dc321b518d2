import type { Schemas } from '../../api/client'
import { Field } from '../../shell/Field'
import { Signature } from './Signature'

export type Agreed = { how: Schemas['Signing']['how']; by: string; strokes: [number, number][][] }

type Props = {
  sheet: Schemas['HandOverSheet']
  dueBack: string
  agreed: Agreed
  errors: Record<string, string>
  onDueBack: (day: string) => void
  onChange: (agreed: Agreed) => void
}

const ways = [
  ['screen', 'Signed here'],
  ['paper', 'Signed on paper'],
  ['later', 'Signed later'],
] as const

/** What is agreed, and by whom. A signature is finished or not there: half of one is never kept. */
export function AgreementStep({ sheet, dueBack, agreed, errors, onDueBack, onChange }: Props) {
  const query = new URLSearchParams({
    player_id: sheet.player_id,
    instrument_id: sheet.instrument.id,
    ...(dueBack ? { due_back_on: dueBack } : {}),
  })
  return (
    <>
      <div
        className="max-h-48 overflow-y-auto rounded-lg bg-base-200 p-3 text-sm whitespace-pre-line"
        tabIndex={0}
        aria-label="What is agreed"
        role="group"
      >
        <b>{sheet.heading}</b>
        {'\n\n'}
        {sheet.terms}
      </div>
      <div className="mt-3 flex flex-wrap items-end gap-x-4 gap-y-2">
        <Field label="Due back" error={errors.due_back_on}>
          <input
            type="date"
            className="input input-sm"
            value={dueBack}
            onChange={(e) => onDueBack(e.currentTarget.value)}
          />
        </Field>
        <span className="join" role="group" aria-label="How it is signed">
          {ways.map(([how, name]) => (
            <button
              key={how}
              type="button"
              aria-pressed={agreed.how === how}
              className={`btn join-item btn-sm ${agreed.how === how ? 'btn-primary' : ''}`}
              onClick={() => onChange({ ...agreed, how })}
            >
              {name}
            </button>
          ))}
        </span>
        <a
          className="link pb-1 text-sm"
          href={`/api/v1/agreement.pdf?${query.toString()}`}
          target="_blank"
          rel="noreferrer"
        >
          Print it
        </a>
      </div>
      {agreed.how !== 'later' && (
        <div className="mt-3 max-w-md">
          <Field label="Who signs" error={errors['signature.by']}>
            <input
              className="input input-sm w-full"
              value={agreed.by}
              maxLength={120}
              placeholder="Name of the player or a guardian"
              onChange={(e) => onChange({ ...agreed, by: e.currentTarget.value })}
            />
          </Field>
        </div>
      )}
      {agreed.how === 'screen' && (
        <div className="mt-3">
          <Signature strokes={agreed.strokes} onChange={(strokes) => onChange({ ...agreed, strokes })} />
          {errors['signature.strokes'] && <p className="text-sm text-error">{errors['signature.strokes']}</p>}
        </div>
      )}
      {agreed.how === 'later' && (
        <p className="quiet mt-3 text-sm">It goes out unsigned; Hand-out, Notices lists who still owes a signature.</p>
      )}
    </>
  )
}
