import { useState } from 'react'
import { Link } from 'react-router'
import { api, take, type Schemas } from '../../api/client'
import { refresh, useMay, useRefillRound } from '../../api/queries'
import { useWrite } from '../../api/write'
import { useKeys } from '../../shell/keys'
import { useNotice } from '../../shell/notice'
import { count, inText } from '../../words'

type Kit = Schemas['KitToRefill']

/** The round with the box of supplies: kit after kit in the order of the shelves, one tap each. */
export function Refill() {
  const { data: kits, error } = useRefillRound()
  const may = useMay('finish care')
  const notice = useNotice()
  const [at, setAt] = useState(0)
  const refill = useWrite({
    send: (things: Schemas['ThingOfKit'][]) => take(api.POST('/api/v1/kits/refill', { body: { things } })),
    onSuccess: async (result, things) => {
      const short = result.short.length > 0 ? ` By the books there was less in stock: ${result.short.join(', ')}.` : ''
      notice.show(`${count(things.length, 'thing')} put in order.${short}`, result.events)
      await refresh()
    },
    onError: (problem) => notice.show(problem.message),
  })
  const list = kits ?? []
  const now = Math.min(at, Math.max(0, list.length - 1))
  const fill = (kit: Kit, things = kit.things) =>
    refill.mutate(things.map((t) => ({ instrument_id: kit.instrument_id, supply: t.supply })))
  useKeys({
    j: () => setAt(Math.min(list.length - 1, now + 1)),
    k: () => setAt(Math.max(0, now - 1)),
    d: () => {
      const kit = list[now]
      if (!may || !kit || refill.isPending) return false
      fill(kit)
    },
  })
  if (error && !kits) return <p role="alert">{error.message}</p>
  if (!kits) return <p className="quiet">Opening cases…</p>
  if (kits.length === 0)
    return (
      <p>
        Every kit is in order, as far as anybody has looked. Kits are looked through at a hand-out, at a return, and in
        the file of an instrument.
      </p>
    )
  return (
    <section aria-label="Refill round">
      <p>
        {count(kits.length, 'kit')} to put in order. <Fetch kits={kits} />
      </p>
      <ol className="mt-2">
        {kits.map((kit, n) => (
          <li
            key={kit.instrument_id}
            className={`line grid grid-cols-[1fr_auto] items-center gap-x-3 gap-y-1 border-l-3 py-1.5 pl-2 sm:grid-cols-[70px_150px_150px_1fr_auto] ${n === now ? 'border-l-primary' : 'border-l-transparent'}`}
          >
            <Link to={`/instruments/${kit.instrument_id}`} className="font-bold tracking-wide">
              {kit.tag}
            </Link>
            <span className="quiet order-last col-span-2 text-sm sm:order-none sm:col-span-1 sm:text-base">
              {kit.kind_name}
            </span>
            <span className="quiet order-last col-span-2 text-sm sm:order-none sm:col-span-1">
              {kit.holder || [kit.room, kit.slot].filter(Boolean).join(' ')}
            </span>
            <span className="order-last col-span-2 flex flex-wrap gap-x-3 sm:order-none sm:col-span-1">
              {kit.things.map((t) => (
                <button
                  key={t.supply}
                  className="cursor-pointer text-left hover:underline"
                  disabled={!may || refill.isPending}
                  onClick={() => fill(kit, [t])}
                >
                  {t.name} {t.size}{' '}
                  <span className={`text-sm ${t.state === 'missing' ? 'text-error' : 'text-warning'}`}>
                    {t.state === 'wet' ? 'wet: hang it up' : t.state}
                  </span>
                  {t.takes > t.in_stock && <span className="quiet text-sm">, {t.in_stock} in stock</span>}
                  <span className="sr-only">, {kit.tag}: put it in order</span>
                </button>
              ))}
            </span>
            {may && (
              <button
                className="btn btn-outline btn-primary btn-sm"
                aria-label={`${all(kit)}: ${kit.tag}`}
                disabled={refill.isPending}
                onClick={() => fill(kit)}
              >
                {all(kit)}
              </button>
            )}
          </li>
        ))}
      </ol>
      <p className="quiet mt-2 text-sm">
        What is taken comes out of stock, what is soonest out of date first. <kbd>j</kbd> <kbd>k</kbd> move,{' '}
        <kbd>d</kbd> puts a kit in order.
      </p>
    </section>
  )
}

const all = (kit: Kit) => (kit.things.length > 1 ? `All ${String(kit.things.length)}` : 'Done')

/** What to put into the box before setting out. */
function Fetch({ kits }: { kits: Kit[] }) {
  const wanted = new Map<string, { name: string; takes: number; unit: string; stock: number }>()
  for (const t of kits.flatMap((k) => k.things)) {
    if (t.takes === 0) continue
    const name = [t.name, t.size].filter(Boolean).join(' ')
    const w = wanted.get(name) ?? { name, takes: 0, unit: t.unit, stock: t.in_stock }
    wanted.set(name, { ...w, takes: w.takes + t.takes })
  }
  if (wanted.size === 0) return null
  return (
    <>
      Take with you:{' '}
      {[...wanted.values()].map((w, n) => (
        <span key={w.name} className={w.takes > w.stock ? 'text-warning' : ''}>
          {n > 0 && ', '}
          {w.takes} × {inText(w.name)}
          {w.takes > w.stock && ` (${String(w.stock)} there)`}
        </span>
      ))}
      .
    </>
  )
}
