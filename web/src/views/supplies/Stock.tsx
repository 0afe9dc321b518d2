import { useState } from 'react'
import { api, take, type Schemas } from '../../api/client'
import { refresh, useHeader, useMay, useSupplies } from '../../api/queries'
import { useWrite } from '../../api/write'
import { useEntry } from '../../shell/entry'
import { Field } from '../../shell/Field'
import { FormEnd } from '../../shell/FormEnd'
import { useNotice } from '../../shell/notice'
import { centsOf, count, fullDay, money, typedCents } from '../../words'
import { AddSupply } from './AddSupply'
import { usualHorizon, usualService } from './Ordering'
import { StockFile } from './StockFile'
import { units } from './units'

type Line = Schemas['SupplyLine']

/** What is there, with its dates, and how long it lasts. */
export function Stock() {
  const { data, error } = useSupplies(usualHorizon, usualService)
  const [words, setWords] = useState('')
  const [open, setOpen] = useState<string>()
  const [adding, setAdding] = useState<'file' | 'own'>()
  const mayCount = useMay('finish care')
  const mayChange = useMay('change instruments')
  const toggle = (what: typeof adding) => setAdding(adding === what ? undefined : what)
  if (error && !data) return <p role="alert">{error.message}</p>
  if (!data) return <p className="quiet">Counting the drawer…</p>
  const shown = data.lines.filter((l) => `${l.name} ${l.supplier}`.toLowerCase().includes(words.toLowerCase()))
  const dated = data.lines.filter((l) => l.out_of_date > 0)
  return (
    <section aria-label="Stock">
      <div className="flex flex-wrap items-center gap-3">
        <input
          type="search"
          className="input input-sm w-52"
          placeholder="Supply, supplier…"
          aria-label="Find a supply"
          value={words}
          onChange={(e) => setWords(e.currentTarget.value)}
        />
        {mayChange && (
          <span className="ml-auto flex gap-2">
            <button className="btn btn-sm" aria-expanded={adding === 'file'} onClick={() => toggle('file')}>
              From a file…
            </button>
            <button className="btn btn-sm" aria-expanded={adding === 'own'} onClick={() => toggle('own')}>
              One of your own…
            </button>
          </span>
        )}
        {dated.length > 0 && (
          <p className="text-error">
            Out of date: {dated.map((l) => `${l.name} (${String(l.out_of_date)})`).join(', ')}. Do not use it.
          </p>
        )}
      </div>
      {adding === 'file' && <StockFile onDone={() => setAdding(undefined)} />}
      {adding === 'own' && <AddSupply onDone={() => setAdding(undefined)} />}
      <ul className="mt-2">
        {shown.map((l) => {
          const key = `${l.supply}/${l.size}`
          return (
            <li key={key} className="line py-1">
              <div className="grid grid-cols-[1fr_auto_auto] items-center gap-x-3 lg:grid-cols-[240px_110px_130px_1fr_110px_auto] print:grid-cols-[170px_80px_90px_1fr_90px]">
                <b className="min-w-0">{l.name}</b>
                <span
                  className={`text-right ${l.wanting > l.in_stock ? 'text-error' : l.in_stock === 0 ? 'quiet' : ''}`}
                >
                  {units(l.in_stock, l.unit)}
                </span>
                <span className={`hidden lg:block print:block ${lasting(l) < 4 ? 'text-warning' : 'quiet'}`}>
                  {l.lasts_weeks === undefined || l.in_stock === 0 ? '' : lasts(l.lasts_weeks)}
                </span>
                <span className="quiet hidden text-sm lg:block print:block">
                  {l.on_order > 0 && `${units(l.on_order, l.unit)} on order · `}
                  {[l.supplier, soonest(l)].filter(Boolean).join(' · ')}
                </span>
                <span className="quiet hidden text-right text-sm lg:block print:block">
                  {l.pack_price_cents !== undefined && `${money(l.pack_price_cents)} / ${String(l.pack_size)}`}
                </span>
                {mayCount && (
                  <button
                    className="because"
                    aria-label={`Change ${l.name}`}
                    aria-expanded={open === key}
                    onClick={() => setOpen(open === key ? undefined : key)}
                  >
                    change
                  </button>
                )}
              </div>
              {open === key && <OneSupply line={l} onClose={() => setOpen(undefined)} />}
            </li>
          )
        })}
      </ul>
    </section>
  )
}

const lasting = (l: Line) => l.lasts_weeks ?? Infinity
const lasts = (weeks: number) =>
  weeks < 1 ? 'not a week' : weeks > 104 ? 'for years' : `lasts ${count(Math.floor(weeks), 'week')}`
const soonest = (l: Line) => {
  const day = l.lots.map((x) => x.expires_on).find(Boolean)
  return day ? `until ${fullDay(day)}` : ''
}

function OneSupply({ line, onClose }: { line: Line; onClose: () => void }) {
  return (
    <div className="my-2 grid gap-6 bg-base-200 p-4 lg:grid-cols-2">
      <Counting line={line} onClose={onClose} />
      <Buying line={line} onClose={onClose} />
    </div>
  )
}

type OneProps = { line: Line; onClose: () => void }

function Counting({ line, onClose }: OneProps) {
  const { data: header } = useHeader()
  const notice = useNotice()
  const { register, submit } = useEntry({ defaultValues: { quantity: line.in_stock, lot: '', expires_on: '' } })
  const save = useWrite({
    send: (f: { quantity: number; lot: string; expires_on: string }) =>
      take(
        api.POST('/api/v1/supplies/count', {
          body: {
            ...{ supply: line.supply, size: line.size, quantity: f.quantity, lot: f.lot },
            ...(f.expires_on ? { expires_on: f.expires_on } : {}),
          },
        }),
      ),
    onSuccess: async () => {
      notice.show(`${line.name} is counted.`)
      onClose()
      await refresh()
    },
  })
  const { wrong } = save
  return (
    <form aria-label={`Count ${line.name}`} onSubmit={submit((f) => save.mutate(f))}>
      <h2>Counted today</h2>
      <ul className="quiet mb-2 text-sm">
        {line.lots.map((l) => (
          <li key={l.id}>
            {units(l.remaining, line.unit)}
            {l.lot && `, lot ${l.lot}`}, in since {fullDay(l.received_on)}
            {l.expires_on && (
              <span className={header && l.expires_on < header.today ? 'text-error' : ''}>
                , until {fullDay(l.expires_on)}
              </span>
            )}
          </li>
        ))}
      </ul>
      <div className="grid gap-3 sm:grid-cols-3">
        <Field label={`There are, in ${line.unit}s`} error={wrong.quantity}>
          <input
            className="input input-sm w-full"
            type="number"
            min={0}
            step="any"
            {...register('quantity', { valueAsNumber: true })}
          />
        </Field>
        <Field label="Lot of what is new" error={wrong.lot}>
          <input className="input input-sm w-full" {...register('lot')} />
        </Field>
        <Field label="And its date" error={wrong.expires_on}>
          <input className="input input-sm w-full" type="date" {...register('expires_on')} />
        </Field>
      </div>
      <FormEnd error={save.error} busy={save.isPending} name="Save the count" onClose={onClose} />
    </form>
  )
}

function Buying({ line, onClose }: OneProps) {
  const may = useMay('change instruments')
  const notice = useNotice()
  const { register, submit } = useEntry({
    defaultValues: {
      supplier: line.supplier,
      pack_size: line.pack_size,
      price: typedCents(line.pack_price_cents),
      lead_weeks: line.lead_weeks,
    },
  })
  const save = useWrite({
    send: (f: { supplier: string; pack_size: number; price: string; lead_weeks: number }) => {
      const cents = centsOf(f.price)
      return take(
        api.PUT('/api/v1/supplies', {
          body: {
            ...{ supply: line.supply, size: line.size, version: line.version },
            ...{ supplier: f.supplier, pack_size: f.pack_size, lead_weeks: f.lead_weeks },
            ...(cents === null ? {} : { pack_price_cents: cents }),
          },
        }),
      )
    },
    onSuccess: async () => {
      notice.show('Saved.')
      onClose()
      await refresh()
    },
  })
  if (!may) return null
  const { wrong } = save
  return (
    <form aria-label={`How ${line.name} is bought`} onSubmit={submit((f) => save.mutate(f))}>
      <h2>How it is bought</h2>
      <div className="grid gap-3 sm:grid-cols-2">
        <Field label="Supplier" error={wrong.supplier}>
          <input className="input input-sm w-full" {...register('supplier')} />
        </Field>
        <Field label={`A pack holds, in ${line.unit}s`} error={wrong.pack_size}>
          <input
            className="input input-sm w-full"
            type="number"
            step="any"
            {...register('pack_size', { valueAsNumber: true })}
          />
        </Field>
        <Field label="Price of a pack" error={wrong.pack_price_cents}>
          <input className="input input-sm w-full" inputMode="decimal" {...register('price')} />
        </Field>
        <Field label="Weeks until it arrives" error={wrong.lead_weeks}>
          <input
            className="input input-sm w-full"
            type="number"
            min={0}
            step="any"
            {...register('lead_weeks', { valueAsNumber: true })}
          />
        </Field>
      </div>
      <FormEnd error={save.error} busy={save.isPending} name="Save" onClose={onClose} />
    </form>
  )
}
