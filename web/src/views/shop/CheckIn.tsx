import { useWatch } from 'react-hook-form'
import { api, take, type Schemas } from '../../api/client'
import { useEntry } from '../../shell/entry'
import { centsOf, money, readable, typedCents } from '../../words'
import { firstWords, useStep } from './useStep'

type Form = {
  lines: { outcome: 'mended' | 'not mended' | ''; price: string }[]
  total: string
  play_tested: boolean
  goes: 'player' | 'slot'
  note: string
}

/** Looks an instrument over that is back: line by line against what was asked, then by ear. */
export function CheckIn({ sheet }: { sheet: Schemas['JobView'] }) {
  const { job, told, row } = sheet
  const saidOf = (words: string) => told.find((t) => t.words === words)
  const { register, control, submit, formState } = useEntry<Form>({
    defaultValues: {
      lines: job.lines.map((l) => {
        const said = saidOf(l.words)
        return { outcome: '', price: typedCents(said?.cents ?? l.expected_cents) }
      }),
      total: typedCents(sheet.told_cents ?? (job.agreed_cents || undefined)),
      play_tested: false,
      goes: sheet.may_return ? 'player' : 'slot',
      note: '',
    },
  })
  const [lines, total] = useWatch({ control, name: ['lines', 'total'] })
  const sum = lines.reduce((n, l) => n + (centsOf(l.price) || 0), 0)
  const bill = centsOf(total)
  const done = useStep(
    (f: Form) =>
      take(
        api.POST('/api/v1/shop/jobs/{id}/check-in', {
          params: { path: { id: job.id } },
          body: {
            version: job.version,
            lines: f.lines.map((l) => {
              const cents = centsOf(l.price)
              return { outcome: l.outcome || 'not mended', ...(cents === null ? {} : { cents }) }
            }),
            total_cents: centsOf(f.total) ?? 0,
            play_tested: f.play_tested,
            goes: f.goes,
            note: f.note,
          },
        }),
      ),
    `${sheet.instrument.tag} is checked in.`,
  )
  return (
    <form aria-label="Check it in" className="grid gap-3" onSubmit={submit((f) => done.take(f))}>
      <h2>Check it in</h2>
      <ul>
        {job.lines.map((l, n) => {
          const said = saidOf(l.words)
          return (
            <li key={n} className="line grid grid-cols-[1fr_auto] items-center gap-x-2 py-1.5">
              <span>
                {l.words}
                {said && (!said.mended || said.note) && (
                  <span className="block text-sm text-error">
                    The shop says: {said.mended ? '' : 'not done. '}
                    {said.note}
                  </span>
                )}
              </span>
              <input
                className="input input-sm w-22 text-right"
                inputMode="decimal"
                aria-label={`Cost of ${l.words}`}
                {...register(`lines.${n}.price`, { validate: readable })}
              />
              <span className="col-span-full flex gap-4 text-sm" role="radiogroup" aria-label={l.words}>
                {(['mended', 'not mended'] as const).map((o) => (
                  <label key={o} className="flex min-h-8 items-center gap-1.5">
                    <input
                      type="radio"
                      className="radio radio-sm"
                      value={o}
                      required
                      {...register(`lines.${n}.outcome`)}
                    />
                    {o}
                  </label>
                ))}
              </span>
            </li>
          )
        })}
      </ul>
      <label className="flex items-center gap-2">
        <span className="flex-1">The bill</span>
        <input
          className="input input-sm w-26 text-right"
          inputMode="decimal"
          required
          {...register('total', { validate: readable })}
        />
      </label>
      {bill !== null && !Number.isNaN(bill) && job.lines.length > 0 && bill !== sum && (
        <p className="text-sm text-error">
          The bill is {money(Math.abs(bill - sum))} {bill > sum ? 'more' : 'less'} than its lines.
        </p>
      )}
      {bill !== null && job.agreed_cents !== undefined && bill > job.agreed_cents && (
        <p className="text-sm text-warning">It is more than was agreed, {money(job.agreed_cents)}.</p>
      )}
      <section aria-label="Try it">
        <h2>Try it first</h2>
        <ol className="list-decimal pl-5 text-sm">
          {sheet.play_test.map((step) => (
            <li key={step}>{step}</li>
          ))}
        </ol>
        <label className="mt-1 flex min-h-8 items-center gap-2">
          <input type="checkbox" className="checkbox checkbox-sm" {...register('play_tested')} />
          It was tried and sounds right
        </label>
        {done.wrong.play_tested && <p className="text-sm text-error">{done.wrong.play_tested}</p>}
      </section>
      <div role="radiogroup" aria-label="Where it goes" className="grid gap-1">
        {sheet.may_return && (
          <label className="flex min-h-8 items-center gap-2">
            <input type="radio" className="radio radio-sm" value="player" {...register('goes')} />
            <span>
              Back to {row.holder || 'whoever had it'}
              {sheet.loaned && `; ${sheet.loaned} comes back and is held for its turnover`}
            </span>
          </label>
        )}
        <label className="flex min-h-8 items-center gap-2">
          <input type="radio" className="radio radio-sm" value="slot" {...register('goes')} />
          {sheet.may_return ? 'Into its slot, held for its turnover' : 'Into its slot, free'}
        </label>
      </div>
      <input
        className="input input-sm w-full"
        aria-label="Note"
        placeholder="anything to remember"
        {...register('note')}
      />
      {Object.values(formState.errors).length > 0 && (
        <p role="alert" className="text-sm text-error">
          An amount cannot be read. Write it as 120.00.
        </p>
      )}
      {done.error && !done.wrong.play_tested && (
        <p role="alert" className="text-sm text-error">
          {firstWords(done)}
        </p>
      )}
      <p>
        <button className="btn btn-primary btn-sm" disabled={done.busy}>
          Check it in
        </button>
      </p>
    </form>
  )
}
