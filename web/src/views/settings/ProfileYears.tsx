import type { Schemas } from '../../api/client'
import { useProfileYears } from '../../api/queries'
import { aboutMoney, count } from '../../words'

type Year = Schemas['YearOfCare']

const families: Record<string, string> = {
  ...{ woodwind: 'Woodwinds', brass: 'Brass', percussion: 'Percussion', keyboard: 'Keyboards', strings: 'Strings' },
}

/** What another profile would change in a year, in money, hours and shop jobs, by family: read before it is chosen. */
export function ProfileYears() {
  const { data } = useProfileYears()
  const now = data?.profiles.find((p) => p.holds)
  if (!data || !now) return null
  const others = data.profiles.filter((p) => !p.holds)
  const rows = [
    ...now.families.map((f) => ({
      name: families[f.family] ?? f.family,
      at: (p: Schemas['ProfileYear']) => p.families.find((x) => x.family === f.family),
    })),
    { name: 'All', at: (p: Schemas['ProfileYear']) => p.total },
  ]
  return (
    <section aria-label="What a profile takes in a year" className="mb-3">
      <table className="w-full text-left text-sm">
        <caption className="pb-1 text-left">
          What the clocks take in a year, and what a change of profile would change
        </caption>
        <thead className="hidden sm:table-header-group">
          <tr className="quiet">
            <th className="py-1 font-normal"> </th>
            <th className="py-1 pl-3 font-normal">{now.name}, as now</th>
            {others.map((p) => (
              <th key={p.profile} className="py-1 pl-3 font-normal">
                {p.name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => {
            const here = row.at(now)
            return (
              <tr
                key={row.name}
                className={`line block py-1 align-top sm:table-row ${row.name === 'All' ? 'font-bold' : ''}`}
              >
                <td className="block sm:table-cell sm:py-1">{row.name}</td>
                <td className="block pl-3 sm:table-cell sm:py-1">
                  <span className="quiet sm:hidden">{now.name}, as now: </span>
                  {here && <Takes of={here} />}
                </td>
                {others.map((p) => {
                  const there = row.at(p)
                  return (
                    <td key={p.profile} className="block pl-3 sm:table-cell sm:py-1">
                      <span className="quiet sm:hidden">{p.name}: </span>
                      {here && there && <Changes from={here} to={there} />}
                    </td>
                  )
                })}
              </tr>
            )
          })}
        </tbody>
      </table>
      <p className="quiet mt-1 text-sm">
        With the instruments and the timetable of today. Shop prices are usual ones, from memory, but for your own for
        new hair{data.unpriced > 0 ? `; ${count(data.unpriced, 'supply', 'supplies')} without a price left out` : ''}.
        What a return or a concert asks for is the same under all.
      </p>
    </section>
  )
}

const hours = (minutes: number) => `${String(Math.round(minutes / 60))} h`

const Takes = ({ of }: { of: Year }) => (
  <>
    {aboutMoney(of.supplies_cents + of.shop_cents)}, {hours(of.minutes)}, {count(Math.round(of.shop_jobs), 'shop job')}
  </>
)

/** A difference says which way it goes in words too: a sign alone is overlooked. */
function Changes({ from, to }: { from: Year; to: Year }) {
  const cents = to.supplies_cents + to.shop_cents - from.supplies_cents - from.shop_cents
  const minutes = to.minutes - from.minutes
  const jobs = Math.round(to.shop_jobs) - Math.round(from.shop_jobs)
  const more = (n: number) => (n < 0 ? 'less' : 'more')
  const parts = [
    Math.abs(cents) >= 50 && `${aboutMoney(Math.abs(cents))} ${more(cents)}`,
    Math.abs(minutes) >= 30 && `${hours(Math.abs(minutes))} ${more(minutes)}`,
    jobs !== 0 && `${count(Math.abs(jobs), 'shop job')} ${jobs < 0 ? 'fewer' : 'more'}`,
  ].filter(Boolean)
  return <>{parts.length > 0 ? parts.join(', ') : 'no change'}</>
}
