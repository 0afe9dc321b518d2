import { useState } from 'react'
import { useWatch } from 'react-hook-form'
import { Link } from 'react-router'
import { api, take, type Schemas } from '../../api/client'
import { refresh, useMay, useOrders } from '../../api/queries'
import { useWrite } from '../../api/write'
import { useEntry } from '../../shell/entry'
import { useNotice } from '../../shell/notice'
import { fullDay, money } from '../../words'

type Order = Schemas['PlacedOrder']

/** What was ordered and what is still to come. */
export function Orders() {
  const { data: orders, error } = useOrders()
  if (error && !orders) return <p role="alert">{error.message}</p>
  if (!orders) return <p className="quiet">Looking for the parcel…</p>
  if (orders.length === 0)
    return (
      <p>
        Nothing was ordered yet. What to order stands under{' '}
        <Link className="link" to="/supplies/order">
          To order
        </Link>
        .
      </p>
    )
  return (
    <ul>
      {orders.map((o) => (
        <li key={o.id} className="line py-2">
          <OneOrder order={o} />
        </li>
      ))}
    </ul>
  )
}

function OneOrder({ order: o }: { order: Order }) {
  const [open, setOpen] = useState(false)
  const may = useMay('finish care')
  const name = o.supplier || 'No supplier'
  return (
    <section aria-label={`${name}, ${fullDay(o.placed_on)}`}>
      <div className="flex flex-wrap items-baseline gap-x-4 gap-y-1">
        <h2>{name}</h2>
        <span className="quiet">
          ordered {fullDay(o.placed_on)}, {money(o.cents)}
          {o.closed_on
            ? `, closed ${fullDay(o.closed_on)}`
            : o.expected_on && `, expected about ${fullDay(o.expected_on)}`}
        </span>
        <span className="no-print ml-auto flex gap-4">
          <a className="link text-sm" href={`/api/v1/supply-orders/${o.id}/order.csv`}>
            CSV
          </a>
          <a className="link text-sm" href={`/api/v1/supply-orders/${o.id}/order.xlsx`}>
            XLSX
          </a>
          <button className="because" onClick={() => window.print()}>
            print
          </button>
          {may && !o.closed_on && (
            <button className="btn btn-outline btn-primary btn-sm" aria-expanded={open} onClick={() => setOpen(!open)}>
              It came
            </button>
          )}
        </span>
      </div>
      {open && !o.closed_on ? (
        <Receiving order={o} onClose={() => setOpen(false)} />
      ) : (
        <p className="mt-1">
          {o.lines.map((l, n) => (
            <span key={l.supply + l.size}>
              {n > 0 && ' · '}
              {l.packs} × {l.name}
              {l.received_packs > 0 && l.received_packs < l.packs && (
                <span className="text-warning"> ({l.received_packs} came)</span>
              )}
            </span>
          ))}
        </p>
      )}
    </section>
  )
}

/** What came in, with lot and date: it goes into stock. */
function Receiving({ order, onClose }: { order: Order; onClose: () => void }) {
  const notice = useNotice()
  const { register, submit, control } = useEntry({
    defaultValues: {
      close: false,
      lines: order.lines.map((l) => ({
        packs: String(Math.max(0, l.packs - l.received_packs)),
        lot: '',
        expires_on: '',
      })),
    },
  })
  const close = useWatch({ control, name: 'close' })
  const lines = useWatch({ control, name: 'lines' })
  const some = order.lines.flatMap((line, n) => {
    const came = lines[n]
    return came && Number(came.packs) > 0 ? [{ n, line, came }] : []
  })
  const receive = useWrite({
    send: () =>
      take(
        api.POST('/api/v1/supply-orders/{id}/receive', {
          params: { path: { id: order.id } },
          body: {
            close,
            lines: some.map(({ line, came }) => ({
              ...{ supply: line.supply, size: line.size, packs: Number(came.packs), lot: came.lot },
              ...(came.expires_on ? { expires_on: came.expires_on } : {}),
            })),
          },
        }),
      ),
    onSuccess: async () => {
      notice.show('It is in stock.')
      onClose()
      await refresh()
    },
  })
  const { wrong } = receive
  return (
    <form className="mt-2 bg-base-200 p-3" onSubmit={submit(() => receive.mutate())}>
      {order.lines.map((l, n) => {
        const sent = some.findIndex((s) => s.n === n)
        const error = sent >= 0 ? wrong[`lines[${String(sent)}].expires_on`] : undefined
        return (
          <div key={`${l.supply}/${l.size}`} className="line flex flex-wrap items-center gap-x-3 gap-y-1 py-1">
            <input
              type="number"
              min={0}
              className="input input-sm w-20 text-right"
              aria-label={`Packs of ${l.name} that came`}
              {...register(`lines.${n}.packs`)}
            />
            <span className="min-w-52 flex-1">
              {l.name}{' '}
              <span className="quiet text-sm">
                {l.packs} ordered, {l.received_packs} came before
              </span>
            </span>
            <input
              className="input input-sm w-32"
              placeholder="Lot"
              aria-label={`Lot of ${l.name}`}
              {...register(`lines.${n}.lot`)}
            />
            {l.expires && (
              <input
                type="date"
                className="input input-sm w-40"
                aria-label={`Date on ${l.name}`}
                {...register(`lines.${n}.expires_on`)}
              />
            )}
            {error && <span className="w-full text-sm text-error">{error}</span>}
          </div>
        )
      })}
      {receive.error && (
        <p role="alert" className="mt-2 text-error">
          {receive.error.message}
        </p>
      )}
      <div className="mt-3 flex flex-wrap items-center gap-3">
        <button className="btn btn-primary btn-sm" disabled={receive.isPending || (some.length === 0 && !close)}>
          Into stock
        </button>
        <label className="flex items-center gap-1.5 text-sm">
          <input type="checkbox" className="checkbox checkbox-sm" {...register('close')} />
          nothing more will come
        </label>
      </div>
    </form>
  )
}
