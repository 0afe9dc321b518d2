import { Link } from 'react-router'
import type { Schemas } from '../../api/client'
import { count } from '../../words'

const round = (n: number) => String(Math.round(n * 100) / 100)
const ml = (n: number) => `${n < 10 ? n.toFixed(1) : n.toFixed(0)} mL`

/** What the work takes from the drawer; what is short stands first. */
export function Needs({ plan }: { plan: Schemas['BenchPlan'] }) {
  const short = plan.needs.filter((n) => n.short > 1e-9)
  const { soak } = plan
  if (plan.needs.length === 0) return null
  return (
    <section aria-label="What it takes">
      <h2>What it takes</h2>
      {short.length > 0 && (
        <p role="alert" className="my-1 text-error">
          By the books there is too little of {short.map((n) => n.name.toLowerCase()).join(', ')}.{' '}
          <Link className="link" to="/supplies/order">
            Order it
          </Link>{' '}
          or{' '}
          <Link className="link" to="/supplies/stock">
            count again
          </Link>
          .
        </p>
      )}
      {soak && (
        <p className="my-1">
          Soak vessel{soak.measured ? '' : ' (a cup for each; measure yours in Settings, Products)'}:{' '}
          {ml(soak.vinegar_ml)} vinegar and {ml(soak.water_ml)} cold water
          {soak.fillings > 1 && `, ${String(soak.fillings)} fillings`} for {count(soak.mouthpieces, 'mouthpiece')}. The
          corks stay 10 mm above.
        </p>
      )}
      <ul className="grid gap-x-6 sm:grid-cols-2 xl:grid-cols-3">
        {plan.needs.map((n) => (
          <li key={`${n.supply}/${n.size}`} className="line flex justify-between gap-3 py-1 text-sm">
            <span className={n.short > 1e-9 ? 'text-error' : ''}>{n.name}</span>
            <span className="quiet text-right">
              {n.ml ? ml(n.ml) : round(n.units)}
              {n.short > 1e-9 && ` · there: ${n.ml ? ml((n.in_stock / n.units) * n.ml) : round(n.in_stock)}`}
            </span>
          </li>
        ))}
      </ul>
    </section>
  )
}
