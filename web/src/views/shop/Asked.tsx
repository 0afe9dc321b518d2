import { Plus, X } from 'lucide-react'
import { useFieldArray, useWatch } from 'react-hook-form'
import { api, take, type Schemas } from '../../api/client'
import { useEntry } from '../../shell/entry'
import { Field } from '../../shell/Field'
import { centsOf, money, readable, typedCents } from '../../words'
import { firstWords, useStep } from './useStep'

type Line = Schemas['JobLine'] & { price: string }
type Form = { shop_id: string; asks: string; not_wanted: string; decides: string; lines: Line[] }

/** What the shop is asked to do, and to leave alone. It may be changed until the instrument has left. */
export function Asked({ sheet, may }: { sheet: Schemas['JobView']; may: boolean }) {
  const { job } = sheet
  const open = may && ['wanted', 'asked', 'quoted', 'agreed', 'booked'].includes(job.state)
  return (
    <section aria-label="What is asked">
      <h2>What is asked</h2>
      {open ? <AskedForm sheet={sheet} /> : <AskedList sheet={sheet} />}
    </section>
  )
}

function AskedList({ sheet: { job } }: { sheet: Schemas['JobView'] }) {
  return (
    <>
      <ul>
        {job.lines.map((l, n) => (
          <li key={n} className="line flex gap-3 py-1">
            <span className="flex-1">{l.words}</span>
            {l.outcome && (
              <span className={`text-sm ${l.outcome === 'mended' ? 'quiet' : 'text-error'}`}>{l.outcome}</span>
            )}
            <span className="w-20 text-right">
              {l.real_cents !== undefined
                ? money(l.real_cents)
                : l.expected_cents !== undefined && <span className="quiet">{money(l.expected_cents)}</span>}
            </span>
          </li>
        ))}
      </ul>
      {job.asks && <p className="mt-2">{job.asks}</p>}
      {job.not_wanted && (
        <p className="quiet mt-2 text-sm">
          <b>Left alone:</b> {job.not_wanted}
        </p>
      )}
    </>
  )
}

function AskedForm({ sheet }: { sheet: Schemas['JobView'] }) {
  const { job } = sheet
  const { register, control, submit, setValue, formState } = useEntry<Form>({
    defaultValues: {
      shop_id: job.shop_id ?? '',
      asks: job.asks,
      not_wanted: job.not_wanted,
      decides: job.decides,
      lines: job.lines.map((l) => ({ ...l, price: typedCents(l.expected_cents) })),
    },
  })
  const { fields, append, remove } = useFieldArray({ control, name: 'lines' })
  const save = useStep(
    ({ lines, shop_id, ...rest }: Form) =>
      take(
        api.PUT('/api/v1/shop/jobs/{id}', {
          params: { path: { id: job.id } },
          body: {
            version: job.version,
            ...rest,
            ...(shop_id ? { shop_id } : {}),
            lines: lines.map(({ price, ...l }) => {
              const line: Schemas['JobLine'] = { ...l }
              delete line.expected_cents
              const cents = centsOf(price)
              return cents === null ? line : { ...line, expected_cents: cents }
            }),
          },
        }),
      ),
    'Saved.',
  )
  const lines = useWatch({ control, name: 'lines' })
  const own = (n: number) => lines[n]?.work === ''
  return (
    <form aria-label="What is asked" className="mt-1 grid gap-3" onSubmit={submit((f) => save.take(f))}>
      <ul>
        {fields.map((f, n) => (
          <li key={f.id} className="line flex items-center gap-2 py-1">
            <span className="min-w-0 flex-1">
              {own(n) ? (
                <input
                  className="input input-sm w-full"
                  aria-label={`In your words, line ${String(n + 1)}`}
                  placeholder="in your own words"
                  {...register(`lines.${n}.words`)}
                />
              ) : (
                lines[n]?.words
              )}
              {save.wrong[`lines[${String(n)}].words`] && (
                <span className="block text-sm text-error">{save.wrong[`lines[${String(n)}].words`]}</span>
              )}
            </span>
            <input
              className="input input-sm w-22 text-right"
              inputMode="decimal"
              aria-label={`Expected, line ${String(n + 1)}`}
              {...register(`lines.${n}.price`, {
                validate: readable,
              })}
            />
            <button
              type="button"
              className="btn btn-ghost btn-sm px-2"
              aria-label={`Take out line ${String(n + 1)}`}
              onClick={() => remove(n)}
            >
              <X size={16} />
            </button>
          </li>
        ))}
      </ul>
      {formState.errors.lines?.map?.((e, n) =>
        e?.price ? (
          <p key={n} role="alert" className="text-sm text-error">
            {e.price.message}
          </p>
        ) : null,
      )}
      <p className="flex flex-wrap items-center gap-2">
        <select
          className="select select-sm w-64"
          aria-label="Add a line"
          value=""
          onChange={(e) => {
            const repair = sheet.repairs.find((r) => r.key === e.currentTarget.value)
            if (repair) append({ work: repair.key, words: repair.name, outcome: '', price: typedCents(repair.cents) })
          }}
        >
          <option value="">Add a line…</option>
          {sheet.repairs.map((r) => (
            <option key={r.key} value={r.key}>
              {r.name}
            </option>
          ))}
        </select>
        <button
          type="button"
          className="btn btn-sm"
          onClick={() => append({ work: '', words: '', outcome: '', price: '' })}
        >
          <Plus size={15} aria-hidden /> In your own words
        </button>
      </p>
      <div className="grid gap-3 sm:grid-cols-2">
        <Field label="Shop" error={save.wrong.shop_id}>
          <select className="select select-sm w-full" {...register('shop_id')}>
            <option value="">not chosen yet</option>
            {sheet.shops.map((s) => (
              <option key={s.id} value={s.id}>
                {s.name}
                {s.does_all ? '' : ', does not do all of it'}
              </option>
            ))}
          </select>
        </Field>
        <Field label="Asked before more is done" error={save.wrong.decides}>
          <input className="input input-sm w-full" {...register('decides')} />
        </Field>
      </div>
      <Field label="Anything else for the shop" error={save.wrong.asks}>
        <textarea className="textarea min-h-14 w-full text-sm" rows={2} {...register('asks')} />
      </Field>
      <Field label="To be left alone" error={save.wrong.not_wanted}>
        <textarea
          className="textarea min-h-14 w-full text-sm"
          rows={2}
          {...register('not_wanted')}
          onBlur={(e) => setValue('not_wanted', e.currentTarget.value.trim())}
        />
      </Field>
      {save.error && (
        <p role="alert" className="text-sm text-error">
          {firstWords(save)}
        </p>
      )}
      <p>
        <button className="btn btn-outline btn-primary btn-sm" disabled={save.busy || !formState.isDirty}>
          Save what is asked
        </button>
      </p>
    </form>
  )
}
