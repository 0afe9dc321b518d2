import type { Schemas } from '../../api/client'
import { count, money } from '../../words'

type Props = { title: string; order: Schemas['Needed'][]; none?: string }

/** What would have to be rented or bought, with months and money where a price is known. */
export function ToRent({ title, order, none }: Props) {
  const known = order.filter((o) => o.cents !== undefined)
  return (
    <section aria-label={title} className="mt-5 first:mt-0">
      <h2>{title}</h2>
      {order.length === 0 && <p className="quiet">{none}</p>}
      <ul>
        {order.map((o) => (
          <li key={o.kind_name + o.size} className="line flex items-baseline gap-2 py-1">
            <b>{o.count}</b>
            <span className="flex-1">
              {o.kind_name} {o.size}
            </span>
            <span className="quiet text-right text-sm">
              {o.cents === undefined
                ? 'no price yet'
                : `${count(o.months, 'month')} at ${money(o.monthly_cents ?? 0)}: ${money(o.cents)}`}
            </span>
          </li>
        ))}
      </ul>
      {known.length > 1 && (
        <p className="mt-1 text-right">
          <b>{money(known.reduce((sum, o) => sum + (o.cents ?? 0), 0))}</b>
          {known.length < order.length && (
            <span className="quiet text-sm">, without the price of {count(order.length - known.length, 'line')}</span>
          )}
        </p>
      )}
    </section>
  )
}
