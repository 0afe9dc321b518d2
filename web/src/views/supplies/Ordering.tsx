import { useState } from 'react'
import { useNavigate } from 'react-router'
import { api, take, type Schemas } from '../../api/client'
import { refresh, useMay, useSupplies } from '../../api/queries'
import { useWrite } from '../../api/write'
import { useNotice } from '../../shell/notice'
import { Reason } from '../../shell/why'
import { count, money } from '../../words'
import { units } from './units'

type Line = Schemas['SupplyLine']

/** What an order is to last for, and how surely, until somebody says otherwise. */
export const usualHorizon = 12
export const usualService = 0.9

/** What to order, in whole packs, supplier by supplier. The packs can be changed before the order is placed. */
export function Ordering() {
  const [weeks, setWeeks] = useState(usualHorizon)
  const [sure, setSure] = useState(usualService * 100)
  const { data, error } = useSupplies(
    Math.min(104, Math.max(1, weeks || usualHorizon)),
    Math.min(0.999, Math.max(0.01, (sure || 90) / 100)),
  )
  if (error && !data) return <p role="alert">{error.message}</p>
  if (!data) return <p className="quiet">Reckoning with reeds…</p>
  const wanted = data.lines.filter((l) => l.forecast.order_packs > 0)
  const named = data.lines.map((l) => l.supplier).filter(Boolean)
  const suppliers = [...new Set([...wanted.map((l) => l.supplier), ...named])].sort((a, b) =>
    a === '' ? 1 : b === '' ? -1 : a.localeCompare(b),
  )
  return (
    <section aria-label="To order">
      <p className="text-lg">
        To last{' '}
        <input
          type="number"
          className="number-in-text"
          aria-label="Weeks that an order is to last"
          min={1}
          max={104}
          value={weeks}
          onChange={(e) => setWeeks(e.currentTarget.valueAsNumber)}
        />{' '}
        weeks, with{' '}
        <input
          type="number"
          className="number-in-text"
          aria-label="How sure, in percent"
          min={1}
          max={99}
          value={sure}
          onChange={(e) => setSure(e.currentTarget.valueAsNumber)}
        />{' '}
        % certainty:
      </p>
      {wanted.length === 0 && <p className="mt-2">Nothing has to be ordered; what is there and on its way lasts.</p>}
      {suppliers.map((s) => (
        <OneSupplier
          key={s}
          supplier={s}
          lines={wanted.filter((l) => l.supplier === s)}
          others={data.lines.filter((l) => l.supplier === s && l.forecast.order_packs <= 0)}
        />
      ))}
    </section>
  )
}

function OneSupplier({ supplier, lines: wanted, others }: { supplier: string; lines: Line[]; others: Line[] }) {
  const may = useMay('change instruments')
  const notice = useNotice()
  const navigate = useNavigate()
  const [packs, setPacks] = useState<Record<string, number>>({})
  const [asked, setAsked] = useState<string>()
  const key = (l: Line) => `${l.supply}/${l.size}`
  const packsOf = (l: Line) => packs[key(l)] ?? l.forecast.order_packs
  const lines = [...wanted, ...others.filter((l) => key(l) in packs)]
  const more = others.filter((l) => !(key(l) in packs))
  const ordered = lines.filter((l) => packsOf(l) > 0)
  const cents = ordered.reduce((sum, l) => sum + packsOf(l) * (l.pack_price_cents ?? 0), 0)
  const unpriced = ordered.filter((l) => l.pack_price_cents === undefined).length
  const place = useWrite({
    send: (_, id) =>
      take(
        api.POST('/api/v1/supply-orders', {
          body: {
            id: id(),
            supplier,
            lines: ordered.map((l) => ({ supply: l.supply, size: l.size, packs: packsOf(l) })),
          },
        }),
      ),
    onSuccess: async ({ events }) => {
      notice.show('The order is kept. Its file tells the supplier.', events)
      await refresh()
      void navigate('/supplies/orders')
    },
    onError: (problem) => notice.show(problem.message),
  })
  return (
    <section aria-label={supplier || 'No supplier yet'} className="mt-4">
      <div className="flex flex-wrap items-baseline gap-x-3">
        <h2>{supplier || 'No supplier yet'}</h2>
        <span className="quiet">
          {money(cents)}
          {unpriced > 0 && `, without the price of ${count(unpriced, 'line')}`}
        </span>
        {may && (
          <button
            className="btn btn-primary btn-sm ml-auto"
            disabled={place.isPending || ordered.length === 0}
            onClick={() => place.mutate()}
          >
            Place the order: {count(ordered.length, 'line')}
          </button>
        )}
      </div>
      <ul className="mt-1">
        {lines.map((l) => (
          <li key={key(l)} className="line py-1">
            <div className="grid grid-cols-[60px_1fr_auto] items-center gap-x-3 sm:grid-cols-[60px_230px_1fr_100px_auto]">
              <input
                type="number"
                className="input input-sm w-full text-right"
                aria-label={`Packs of ${l.name}`}
                min={0}
                value={packsOf(l)}
                onChange={(e) => setPacks({ ...packs, [key(l)]: e.currentTarget.valueAsNumber || 0 })}
              />
              <span>
                {l.pack_size !== 1 && <span className="quiet">× {l.pack_size} </span>}
                <b>{l.name}</b>
              </span>
              <span className="quiet order-last col-span-2 col-start-2 text-sm sm:order-none sm:col-span-1 sm:col-start-auto">
                {units(l.forecast.expected, l.unit)} likely, {l.forecast.needed} to be sure; {l.in_stock} there
                {l.on_order > 0 && `, ${String(l.on_order)} coming`}
              </span>
              <span className="hidden text-right sm:block">
                {l.pack_price_cents === undefined ? (
                  <span className="quiet">no price</span>
                ) : (
                  money(packsOf(l) * l.pack_price_cents)
                )}
              </span>
              <button
                className="because"
                aria-label={`Why: ${l.name}`}
                aria-expanded={asked === key(l)}
                onClick={() => setAsked(asked === key(l) ? undefined : key(l))}
              >
                why
              </button>
            </div>
            {asked === key(l) && <Reason reason={l.why} />}
          </li>
        ))}
      </ul>
      {may && more.length > 0 && (
        <select
          className="select select-sm mt-2 w-64"
          aria-label={`Also order from ${supplier || 'no supplier yet'}`}
          value=""
          onChange={(e) => setPacks({ ...packs, [e.currentTarget.value]: 1 })}
        >
          <option value="">Also order…</option>
          {more.map((l) => (
            <option key={key(l)} value={key(l)}>
              {l.name}
            </option>
          ))}
        </select>
      )}
    </section>
  )
}
