import { useQuery, keepPreviousData } from '@tanstack/react-query'
import { useState } from 'react'
import { useForm } from 'react-hook-form'
import { api, take, type Schemas } from '../../api/client'
import { Reason } from '../../shell/why'
import { centsOf, money, typedCents } from '../../words'

type Outlook = Schemas['Outlook']
type Weighed = Schemas['RepairOrReplaceOut']

const amounts = [
  ['quote_cents', 'The repair'],
  ['upkeep_cents_per_year', 'Its upkeep a year'],
  ['replacement_cents', 'A new one'],
  ['resale_cents', 'It brings today'],
  ['replacement_upkeep_cents_per_year', 'The new one’s upkeep a year'],
] as const
const years = [
  ['life_after_repair_years', 'Serves then, years'],
  ['replacement_life_years', 'The new one serves, years'],
] as const

type Form = Record<(typeof amounts)[number][0] | (typeof years)[number][0] | 'rate', string>

/** Repair it or replace it: a year of each, beside the trade's rule of thumb. Every figure may be changed; nothing of it is kept. */
export function Weigh({ sheet }: { sheet: Schemas['JobView'] }) {
  const { outlook, charge } = sheet
  const [open, setOpen] = useState(false)
  const [why, setWhy] = useState(false)
  const [input, setInput] = useState<object>()
  const { data, error } = useQuery({
    queryKey: ['weighed', input],
    queryFn: async () =>
      (await take(
        api.POST('/api/v1/calc/{name}', {
          params: { path: { name: 'shop.repair-or-replace' } },
          body: JSON.stringify(input),
          headers: { 'Content-Type': 'application/json' },
          bodySerializer: (body) => body,
        }),
      )) as Weighed,
    enabled: input !== undefined,
    placeholderData: keepPreviousData,
    retry: false,
  })
  const w = data ?? sheet.weighed
  return (
    <section aria-label="Repair or replace">
      <h2>{w.choice === 'repair' ? 'Repairing is the better buy' : 'A new one is the better buy'}</h2>
      <Scale weighed={w} />
      <p className="text-sm">
        Up to <b>{money(w.break_even_quote_cents)}</b> the repair is the better buy. The half-price rule, as a second
        opinion: <b>{w.half_price_rule}</b>.
      </p>
      {w.choice !== w.half_price_rule && (
        <p role="note" className="mt-1 text-sm text-warning">
          The two disagree. {outlook.settles}
        </p>
      )}
      {sheet.care_costs && <p className="mt-1 text-sm text-warning">{sheet.care_costs}</p>}
      {charge && (
        <p className="mt-1 text-sm">
          Avoidable: the family might be asked for <b>{money(charge.charge_cents)}</b>, the school pays the rest. A
          person decides, at the return.
        </p>
      )}
      <p className="mt-1 flex gap-4">
        <button className="because" aria-expanded={open} onClick={() => setOpen(!open)}>
          change a figure
        </button>
        <button className="because" aria-expanded={why} onClick={() => setWhy(!why)}>
          why
        </button>
      </p>
      {open && <Figures outlook={outlook} onInput={setInput} />}
      {error && (
        <p role="alert" className="text-sm text-error">
          {error.message}
        </p>
      )}
      {why && (
        <>
          <Reason reason={w.why} />
          {outlook.why.map((reason, n) => (
            <p key={n} className="border-t border-base-300 py-1.5 text-sm">
              {reason.statement} <span className="quiet">({reason.basis.kind})</span>
            </p>
          ))}
          {charge && <Reason reason={charge.why} />}
        </>
      )}
    </section>
  )
}

/** A year of each as bars of one scale. */
function Scale({ weighed: w }: { weighed: Weighed }) {
  const most = Math.max(w.repair_annual_cents, w.replace_annual_cents, 1)
  const bars = [
    ['repaired', w.repair_annual_cents, w.choice === 'repair'],
    ['a new one', w.replace_annual_cents, w.choice === 'replace'],
  ] as const
  return (
    <dl className="my-2 grid grid-cols-[72px_1fr_110px] items-center gap-x-2 gap-y-1 text-sm">
      {bars.map(([name, cents, better]) => (
        <div key={name} className="contents">
          <dt>{name}</dt>
          <dd aria-hidden>
            <svg viewBox="0 0 100 10" preserveAspectRatio="none" className="h-3 w-full">
              <rect width={(100 * cents) / most} height="10" className={better ? 'fill-primary' : 'fill-base-300'} />
            </svg>
          </dd>
          <dd className="text-right">
            <b>{money(cents)}</b> a year
          </dd>
        </div>
      ))}
    </dl>
  )
}

function Figures({ outlook, onInput }: { outlook: Outlook; onInput: (input: object) => void }) {
  const { register, handleSubmit } = useForm<Form>({
    defaultValues: {
      ...(Object.fromEntries(amounts.map(([key]) => [key, typedCents(outlook[key])])) as Form),
      ...(Object.fromEntries(years.map(([key]) => [key, String(outlook[key])])) as Form),
      rate: String(Math.round(outlook.discount_rate * 1000) / 10),
    },
  })
  const weigh = handleSubmit((f) => {
    onInput({
      ...Object.fromEntries(amounts.map(([key]) => [key, centsOf(f[key]) ?? 0])),
      ...Object.fromEntries(years.map(([key]) => [key, Number(f[key])])),
      discount_rate: Number(f.rate) / 100,
    })
  })
  const fields = [...amounts, ...years, ['rate', 'Money costs, % a year'] as const]
  return (
    <form
      aria-label="Figures"
      className="mt-2 grid grid-cols-2 gap-2"
      onChange={(e) => void weigh(e)}
      onSubmit={(e) => void weigh(e)}
    >
      {fields.map(([key, label]) => (
        <label key={key} className="grid gap-0.5 text-sm">
          {label}
          <input className="input input-sm w-full text-right" inputMode="decimal" {...register(key)} />
        </label>
      ))}
    </form>
  )
}
