import { useSupplies } from '../../api/queries'
import { count, money } from '../../words'
import { usualHorizon, usualService } from './Ordering'

/** What the kit of a kind costs for one player: to fill it, and to keep it filled for a year. */
export function Costs() {
  const { data, error } = useSupplies(usualHorizon, usualService)
  if (error && !data) return <p role="alert">{error.message}</p>
  if (!data) return <p className="quiet">Adding it up…</p>
  const year = data.costs.reduce((sum, c) => sum + c.year_cents * c.players, 0)
  return (
    <section aria-label="What a kit costs" className="max-w-3xl">
      <p>
        All kits together use up <b>{money(year)}</b> in a year, by the lives and amounts of the catalogue and the
        prices under Stock.
      </p>
      <table className="mt-3 w-full text-left">
        <thead>
          <tr className="quiet text-sm">
            <th className="py-1 font-normal">Kind</th>
            <th className="py-1 pl-2 text-right font-normal">Players</th>
            <th className="py-1 pl-2 text-right font-normal">A full kit</th>
            <th className="py-1 pl-2 text-right font-normal">A year</th>
            <th className="hidden py-1 pl-2 text-right font-normal sm:table-cell">All, a year</th>
          </tr>
        </thead>
        <tbody>
          {data.costs.map((c) => (
            <tr key={c.kind_name} className="line">
              <td className="py-1">
                {c.kind_name}
                {c.unpriced > 0 && (
                  <span className="quiet text-sm"> without the price of {count(c.unpriced, 'thing')}</span>
                )}
              </td>
              <td className="py-1 pl-2 text-right">{c.players}</td>
              <td className="py-1 pl-2 text-right">{money(c.kit_cents)}</td>
              <td className="py-1 pl-2 text-right">{money(c.year_cents)}</td>
              <td className="hidden py-1 pl-2 text-right sm:table-cell">{money(c.year_cents * c.players)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  )
}
