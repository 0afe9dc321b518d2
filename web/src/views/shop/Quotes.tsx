import { useState } from 'react'
import { api, take, type Schemas } from '../../api/client'
import { useHeader } from '../../api/queries'
import { useEntry } from '../../shell/entry'
import { Field } from '../../shell/Field'
import { FormEnd } from '../../shell/FormEnd'
import { centsOf, fullDay, moment, money, readable } from '../../words'
import { useStep } from './useStep'

/** What the shop wants for it, and what is odd about that. */
export function Quotes({ sheet, may }: { sheet: Schemas['JobView']; may: boolean }) {
  const [taking, setTaking] = useState(false)
  const can = may && sheet.steps.includes('quote') && sheet.job.shop_id !== undefined
  return (
    <section aria-label="Quotes">
      <h2>{sheet.quotes.length === 0 ? 'No quote yet' : 'Quotes'}</h2>
      <ul>
        {sheet.quotes.map((q) => (
          <li key={q.id} className={`line py-1.5 ${q.decision ? 'quiet' : ''}`}>
            <p className="flex items-baseline gap-2">
              <b className="text-base">{money(q.total_cents)}</b>
              <span className="quiet text-sm">
                {moment(q.given_at)}
                {q.by_service && ', simulated shop'}
                {q.valid_until && `, holds until ${fullDay(q.valid_until)}`}
              </span>
              <span className="ml-auto text-sm">{q.ran_out ? 'ran out' : q.decision}</span>
            </p>
            {q.lines.length > 0 && (
              <ul className="text-sm">
                {q.lines.map((l, n) => (
                  <li key={n} className="flex justify-between gap-3">
                    <span>{l.words}</span>
                    <span>{money(l.cents)}</span>
                  </li>
                ))}
              </ul>
            )}
            {q.note && <p className="text-sm italic">{q.note}</p>}
            {q.differs_cents !== 0 && (
              <p className="text-sm text-error">
                The total is {money(Math.abs(q.differs_cents))} {q.differs_cents > 0 ? 'more' : 'less'} than its lines.
                Ask what for.
              </p>
            )}
          </li>
        ))}
      </ul>
      {can &&
        (taking ? (
          <TakeQuote job={sheet.job} onClose={() => setTaking(false)} />
        ) : (
          <button className="because mt-2" onClick={() => setTaking(true)}>
            take down a quote
          </button>
        ))}
    </section>
  )
}

type Form = { total: string; currency: string; valid_until: string; note: string }

function TakeQuote({ job, onClose }: { job: Schemas['Job']; onClose: () => void }) {
  const { data: header } = useHeader()
  const { register, submit, formState } = useEntry<Form>({
    defaultValues: { total: '', currency: header?.currency ?? '', valid_until: '', note: '' },
  })
  const step = useStep(
    (f: Form, id) =>
      take(
        api.POST('/api/v1/shop/jobs/{id}/quote', {
          params: { path: { id: job.id } },
          body: {
            version: job.version,
            currency: f.currency.trim().toUpperCase(),
            id: id(),
            total_cents: centsOf(f.total) ?? 0,
            note: f.note,
            ...(f.valid_until ? { valid_until: f.valid_until } : {}),
          },
        }),
      ),
    'The quote is noted.',
  )
  return (
    <form
      aria-label="Take down a quote"
      className="mt-2 grid grid-cols-[1fr_4.5rem_1fr] gap-2"
      onSubmit={submit((f) => step.take(f))}
    >
      <Field label="Total" error={formState.errors.total?.message ?? step.wrong.total_cents}>
        <input
          className="input input-sm w-full text-right"
          inputMode="decimal"
          required
          {...register('total', { validate: readable })}
        />
      </Field>
      <Field label="Money" error={step.wrong.currency}>
        <input className="input input-sm w-full" maxLength={3} required {...register('currency')} />
      </Field>
      <Field label="Holds until" error={step.wrong.valid_until}>
        <input className="input input-sm w-full" type="date" {...register('valid_until')} />
      </Field>
      <div className="col-span-full">
        <Field label="What the shop says" error={step.wrong.note}>
          <input className="input input-sm w-full" {...register('note')} />
        </Field>
      </div>
      <FormEnd
        error={step.error === undefined ? null : new Error(step.error)}
        busy={step.busy}
        name="Note the quote"
        onClose={onClose}
      />
    </form>
  )
}
