import { useState } from 'react'
import { api, take, type Schemas } from '../../api/client'
import { newID } from '../../api/id'
import { refresh, useCatalog, useInstruments, useMay, useShop } from '../../api/queries'
import { useWrite } from '../../api/write'
import { useEntry } from '../../shell/entry'
import { Field } from '../../shell/Field'
import { FormEnd } from '../../shell/FormEnd'
import { useNotice } from '../../shell/notice'
import { Reason } from '../../shell/why'
import { centsOf, readable, weekdays } from '../../words'

type Here = Schemas['ShopHere']

/** Who mends what, on which days, and how long it really takes. */
export function Shops() {
  const { data, error } = useShop()
  const may = useMay('change instruments')
  const [adding, setAdding] = useState(false)
  if (error && !data) return <p role="alert">{error.message}</p>
  if (!data) return <p className="quiet">Leafing through the cards…</p>
  return (
    <div className="grid max-w-5xl gap-7">
      {data.shops.length === 0 && (
        <p>No shop is known yet. Name those that mend for the school: what they do, their days, what they promise.</p>
      )}
      {data.shops.map((s) => (
        <One key={s.id + String(s.version)} shop={s} board={data} may={may} />
      ))}
      {may &&
        (adding ? (
          <ShopForm board={data} onClose={() => setAdding(false)} />
        ) : (
          <p>
            <button className="btn btn-sm" onClick={() => setAdding(true)}>
              Name a shop
            </button>
          </p>
        ))}
      <p className="quiet text-sm">
        Rented instruments go to their owner instead, and never to a shop on the school’s money.
        {data.connected
          ? ' A simulated shop is connected: it quotes, takes its time and errs as real ones do, and no real shop hears of it.'
          : ' No simulated shop is connected.'}
      </p>
    </div>
  )
}

function One({ shop: s, board, may }: { shop: Here; board: Schemas['Board']; may: boolean }) {
  const notice = useNotice()
  const [changing, setChanging] = useState(false)
  const [why, setWhy] = useState(false)
  const [noting, setNoting] = useState(false)
  const leave = useWrite({
    send: () =>
      take(api.POST('/api/v1/shop/shops/{id}/leave', { params: { path: { id: s.id } }, body: { version: s.version } })),
    onSuccess: async () => {
      notice.show(`${s.name} is given nothing more. What it did stays known.`)
      await refresh()
    },
  })
  const trades = board.trades.filter((t) => s.trades.includes(t.key)).map((t) => t.name)
  return (
    <section aria-label={s.name}>
      <div className="flex flex-wrap items-baseline gap-x-3">
        <h2>{s.name}</h2>
        <span className="quiet min-w-0 text-sm">
          {trades.join(', ')}
          {s.way === 'service' ? ' · simulated shop' : ''}
        </span>
        {may && (
          <button className="because ml-auto" aria-expanded={changing} onClick={() => setChanging(!changing)}>
            change
          </button>
        )}
      </div>
      <p className="text-sm">
        {[
          s.open_days.length > 0 && `open ${s.open_days.map((d) => weekdays[d - 1]?.slice(0, 3)).join(', ')}`,
          s.promise_days !== undefined && `promises ${String(s.promise_days)} days`,
          s.warranty_days > 0 && `warranty ${String(s.warranty_days)} days`,
          s.phone,
          s.address,
        ]
          .filter(Boolean)
          .join(' · ')}
      </p>
      {s.notes && <p className="text-sm italic">{s.notes}</p>}
      {s.turnaround.length > 0 && (
        <table className="mt-2 text-sm">
          <thead>
            <tr className="quiet text-left align-bottom">
              <th className="pr-3 font-normal sm:pr-8">How long it takes</th>
              <th className="pr-3 text-right font-normal sm:pr-8">half are back after</th>
              <th className="pr-3 text-right font-normal sm:pr-8">nine of ten after</th>
              <th className="pr-3 text-right font-normal sm:pr-8">came back</th>
              <th className="text-right font-normal">still away</th>
            </tr>
          </thead>
          <tbody>
            {s.turnaround.map((t) => (
              <tr key={t.trade} className="line">
                <td className="py-0.5 pr-3 sm:pr-8">{t.name}</td>
                <td className="pr-3 text-right sm:pr-8">
                  {t.median_days === null ? '?' : `${String(t.median_days)} d`}
                </td>
                <td className="pr-3 text-right sm:pr-8">{t.p90_days === null ? '?' : `${String(t.p90_days)} d`}</td>
                <td className="pr-3 text-right sm:pr-8">{t.finished}</td>
                <td className="text-right">{t.open}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <p className="mt-1 text-sm">
        Something sent there today is reckoned away for {s.expected.days} days.{' '}
        <button
          className="because"
          aria-expanded={why}
          aria-label={`Why so long: ${s.name}`}
          onClick={() => setWhy(!why)}
        >
          why
        </button>
      </p>
      {why && <Reason reason={s.expected.why} />}
      {may &&
        (noting ? (
          <OldBill shop={s} onClose={() => setNoting(false)} />
        ) : (
          <button className="because text-sm" onClick={() => setNoting(true)}>
            note a repair from before
          </button>
        ))}
      {changing && (
        <>
          <ShopForm shop={s} board={board} onClose={() => setChanging(false)} />
          <p className="mt-2">
            <button className="because" disabled={leave.isPending} onClick={() => leave.mutate()}>
              give it nothing more
            </button>
          </p>
          {leave.error && (
            <p role="alert" className="text-sm text-error">
              {leave.error.message}
            </p>
          )}
        </>
      )}
    </section>
  )
}

type Bill = { instrument: string; work: string; sent_on: string; back_on: string; total: string }

/** A repair from a notebook or a bill, so that what a shop takes and costs is known from the first day. */
function OldBill({ shop, onClose }: { shop: Here; onClose: () => void }) {
  const notice = useNotice()
  const { data: instruments } = useInstruments()
  const { data: catalog } = useCatalog()
  const { register, submit, reset, formState } = useEntry<Bill>({
    defaultValues: { instrument: '', work: '', sent_on: '', back_on: '', total: '' },
  })
  const note = useWrite({
    send: (f: Bill, id) =>
      take(
        api.POST('/api/v1/shop/past', {
          body: {
            id: id(),
            shop_id: shop.id,
            instrument_id: f.instrument,
            works: [f.work],
            sent_on: f.sent_on,
            back_on: f.back_on,
            total_cents: centsOf(f.total) ?? 0,
          },
        }),
      ),
    onSuccess: async ({ events }) => {
      notice.show('Noted. The shop’s record reckons with it.', events)
      reset()
      await refresh()
    },
  })
  const { wrong } = note
  const named = Object.keys(wrong).length > 0
  const works = catalog?.repairs?.filter((r) => shop.trades.includes(r.trade)) ?? []
  return (
    <form
      aria-label={`A repair from before, ${shop.name}`}
      className="mt-2 grid max-w-4xl grid-cols-2 gap-3 sm:grid-cols-5"
      onSubmit={submit((f) => note.mutate(f))}
    >
      <Field label="Instrument" error={wrong.instrument_id}>
        <select className="select select-sm w-full" required {...register('instrument')}>
          <option value="" />
          {instruments?.map((i) => (
            <option key={i.id} value={i.id}>
              {i.tag} {i.kind_name}
            </option>
          ))}
        </select>
      </Field>
      <Field label="What was done" error={wrong['works[0]']}>
        <select className="select select-sm w-full" required {...register('work')}>
          <option value="" />
          {works.map((r) => (
            <option key={r.key} value={r.key}>
              {r.name}
            </option>
          ))}
        </select>
      </Field>
      <Field label="It left on" error={wrong.sent_on}>
        <input className="input input-sm w-full" type="date" required {...register('sent_on')} />
      </Field>
      <Field label="It was back on" error={wrong.back_on}>
        <input className="input input-sm w-full" type="date" required {...register('back_on')} />
      </Field>
      <Field label="The bill" error={formState.errors.total?.message ?? wrong.total_cents}>
        <input
          className="input input-sm w-full text-right"
          inputMode="decimal"
          required
          {...register('total', { validate: readable })}
        />
      </Field>
      <FormEnd error={named ? null : note.error} busy={note.isPending} name="Note it" onClose={onClose} />
    </form>
  )
}

type Form = {
  name: string
  trades: string[]
  way: 'message' | 'service'
  address: string
  phone: string
  open_days: string[]
  promise_days: string
  warranty_days: string
  notes: string
}

function ShopForm({ shop, board, onClose }: { shop?: Here; board: Schemas['Board']; onClose: () => void }) {
  const notice = useNotice()
  const [id] = useState(() => shop?.id ?? newID())
  const { register, submit } = useEntry<Form>({
    defaultValues: {
      name: shop?.name ?? '',
      trades: shop?.trades ?? [],
      way: shop?.way ?? 'message',
      address: shop?.address ?? '',
      phone: shop?.phone ?? '',
      open_days: (shop?.open_days ?? [1, 2, 3, 4, 5]).map(String),
      promise_days: shop?.promise_days === undefined ? '' : String(shop.promise_days),
      warranty_days: String(shop?.warranty_days ?? 0),
      notes: shop?.notes ?? '',
    },
  })
  const save = useWrite({
    send: (f: Form) =>
      take(
        api.PUT('/api/v1/shop/shops', {
          body: {
            id,
            version: shop?.version ?? 0,
            name: f.name,
            trades: f.trades,
            way: f.way,
            address: f.address,
            phone: f.phone,
            open_days: f.open_days.map(Number),
            ...(f.promise_days.trim() ? { promise_days: Number(f.promise_days) } : {}),
            warranty_days: Number(f.warranty_days),
            notes: f.notes,
          },
        }),
      ),
    onSuccess: async () => {
      notice.show('Saved.')
      onClose()
      await refresh()
    },
  })
  const { wrong } = save
  const named = Object.keys(wrong).length > 0
  return (
    <form
      aria-label={shop ? `Change ${shop.name}` : 'A new shop'}
      className="mt-2 grid max-w-3xl grid-cols-2 gap-3 sm:grid-cols-4"
      onSubmit={submit((f) => save.mutate(f))}
    >
      <div className="col-span-2">
        <Field label="Name" error={wrong.name}>
          <input className="input input-sm w-full" required {...register('name')} />
        </Field>
      </div>
      <Field label="Telephone" error={wrong.phone}>
        <input className="input input-sm w-full" {...register('phone')} />
      </Field>
      <Field label="Takes work" error={wrong.way}>
        <select className="select select-sm w-full" {...register('way')}>
          <option value="message">by message</option>
          <option value="service">simulated shop</option>
        </select>
      </Field>
      <div className="col-span-2">
        <Field label="E-mail address" error={wrong.address}>
          <input className="input input-sm w-full" {...register('address')} />
        </Field>
      </div>
      <Field label="Promises, days" error={wrong.promise_days}>
        <input className="input input-sm w-full" type="number" min={1} {...register('promise_days')} />
      </Field>
      <Field label="Warranty, days" error={wrong.warranty_days}>
        <input className="input input-sm w-full" type="number" min={0} {...register('warranty_days')} />
      </Field>
      <fieldset className="col-span-full flex flex-wrap gap-x-5 gap-y-1 text-sm">
        <legend className="text-sm">What it mends</legend>
        {board.trades.map((t) => (
          <label key={t.key} className="flex min-h-8 items-center gap-1.5">
            <input type="checkbox" className="checkbox checkbox-sm" value={t.key} {...register('trades')} />
            {t.name}
          </label>
        ))}
        {wrong.trades && <span className="text-error">{wrong.trades}</span>}
      </fieldset>
      <fieldset className="col-span-full flex flex-wrap gap-x-5 gap-y-1 text-sm">
        <legend className="text-sm">Open on</legend>
        {weekdays.map((name, n) => (
          <label key={name} className="flex min-h-8 items-center gap-1.5">
            <input type="checkbox" className="checkbox checkbox-sm" value={String(n + 1)} {...register('open_days')} />
            {name.slice(0, 3)}
          </label>
        ))}
      </fieldset>
      <div className="col-span-full">
        <Field label="Notes" error={wrong.notes}>
          <input className="input input-sm w-full" {...register('notes')} />
        </Field>
      </div>
      <FormEnd
        error={named ? null : save.error}
        busy={save.isPending}
        name={shop ? 'Save the shop' : 'Add the shop'}
        onClose={onClose}
      />
    </form>
  )
}
