import { useFieldArray, useWatch } from 'react-hook-form'
import { Link } from 'react-router'
import { api, take, type Schemas } from '../../api/client'
import { refresh, useAddable, useRentals } from '../../api/queries'
import { useAsSeen } from '../../api/seen'
import { useWrite } from '../../api/write'
import { useEntry } from '../../shell/entry'
import { useNotice } from '../../shell/notice'
import { away, centsOf, fullDay, money, typedCents, readable } from '../../words'

/** Instruments of somebody else's: whose, until when, for how much. And what more of them would cost. */
export function Rented() {
  const { data: rentals, error } = useRentals()
  const { data: kinds } = useAddable()
  if (error && !rentals) return <p role="alert">{error.message}</p>
  if (!rentals) return <p className="quiet">Reading the small print…</p>
  return (
    <div className="grid gap-8 lg:grid-cols-[1fr_340px]">
      <section aria-label="Rented">
        {rentals.rented.length === 0 && (
          <p>
            Nothing is rented. An instrument of somebody else’s is marked in its file, under Details: owner, contract,
            price, and when it goes back.
          </p>
        )}
        {rentals.rented.length > 0 && (
          <p>
            {rentals.rented.length} rented, {money(rentals.monthly_cents)} a month.
          </p>
        )}
        <ul className="mt-2">
          {rentals.rented.map((r) => (
            <li
              key={r.instrument_id}
              className="line grid grid-cols-[70px_1fr_auto] items-center gap-x-3 py-1.5 sm:grid-cols-[70px_150px_1fr_1fr_auto]"
            >
              <Link to={`/instruments/${r.instrument_id}`} className="font-bold tracking-wide">
                {r.tag}
              </Link>
              <span>{r.kind_name}</span>
              <span className="col-span-2 col-start-2 sm:col-span-1 sm:col-start-auto">
                {r.rental.owner} <span className="quiet text-sm">{r.rental.contract}</span>
                {r.stopped && <span className="block text-sm text-error">{r.stopped}: tell the owner</span>}
              </span>
              <span
                className={`col-start-2 sm:col-start-auto ${r.days_left !== undefined && r.days_left <= 30 ? 'text-warning' : 'quiet'}`}
              >
                {r.rental.return_by
                  ? `back by ${fullDay(r.rental.return_by)}, ${away(r.days_left ?? 0)}`
                  : 'until further notice'}
              </span>
              <span className="text-right">
                {r.rental.monthly_cents !== undefined && money(r.rental.monthly_cents)}
              </span>
            </li>
          ))}
        </ul>
      </section>
      {kinds && <Prices prices={rentals.prices} version={rentals.version} kinds={kinds} />}
    </div>
  )
}

type Row = { kind: string; size: string; price: string }

type PricesProps = { prices: Schemas['RentalPrice'][]; version: string; kinds: Schemas['Addable'][] }

/** What the rental order reckons with. */
function Prices({ prices, version, kinds }: PricesProps) {
  const notice = useNotice()
  const { register, submit, control, setValue, formState, reset, getValues } = useEntry<{ rows: Row[] }>({
    defaultValues: {
      rows: prices.map((p) => ({ kind: p.kind, size: p.size, price: typedCents(p.monthly_cents) })),
    },
  })
  const { fields, append } = useFieldArray({ control, name: 'rows' })
  const rows = useWatch({ control, name: 'rows' })
  const seen = useAsSeen(version, formState.isDirty)
  const save = useWrite({
    send: (rows: Row[]) =>
      take(
        api.PUT('/api/v1/rentals/prices', {
          params: { query: { version: seen } },
          body: {
            prices: rows
              .filter((r) => r.kind && r.price.trim())
              .map((r) => ({ kind: r.kind, size: r.size, monthly_cents: centsOf(r.price) ?? 0 })),
          },
        }),
      ),
    onSuccess: async () => {
      reset(getValues())
      notice.show('Saved. The rental order reckons with it.')
      await refresh()
    },
  })
  const unreadable = rows.map((r) => readable(r.price.trim())).find((said) => typeof said === 'string')
  const sizesOf = (n: number) => kinds.find((k) => k.key === rows[n]?.kind)?.sizes ?? []
  return (
    <form aria-label="Rental prices" onSubmit={submit((v) => save.mutate(v.rows))}>
      <h2>Prices a month</h2>
      <ul>
        {fields.map((field, n) => (
          <li key={field.id} className="line flex gap-2 py-1">
            <select
              className="select select-sm min-w-0 flex-1"
              aria-label={`Kind, line ${String(n + 1)}`}
              {...register(`rows.${n}.kind`, { onChange: () => setValue(`rows.${n}.size`, '') })}
            >
              <option value="">Kind…</option>
              {kinds.map((k) => (
                <option key={k.key} value={k.key}>
                  {k.name}
                </option>
              ))}
            </select>
            <select
              className="select select-sm w-20"
              aria-label={`Size, line ${String(n + 1)}`}
              {...register(`rows.${n}.size`)}
            >
              {['', ...sizesOf(n)].map((s) => (
                <option key={s} value={s}>
                  {s || 'all'}
                </option>
              ))}
            </select>
            <input
              className="input input-sm w-20 text-right"
              inputMode="decimal"
              aria-label={`Price, line ${String(n + 1)}`}
              {...register(`rows.${n}.price`)}
            />
          </li>
        ))}
      </ul>
      {(unreadable ?? save.error) && (
        <p role="alert" className="mt-2 text-sm text-error">
          {unreadable ?? save.error?.message}
        </p>
      )}
      <div className="mt-2 flex gap-2">
        <button type="button" className="btn btn-sm" onClick={() => append({ kind: '', size: '', price: '' })}>
          Add a price
        </button>
        <button className="btn btn-primary btn-sm" disabled={save.isPending || unreadable !== undefined}>
          Save
        </button>
      </div>
    </form>
  )
}
