import { NavLink, useParams } from 'react-router'
import { Players } from './Players'
import { Propose } from './Propose'
import { Roster } from './Roster'
import { SizeOrder } from './SizeOrder'

const pages = [
  ['', 'Propose', Propose],
  ['players', 'Players', Players],
  ['sizes', 'Size order', SizeOrder],
  ['roster', 'Roster', Roster],
] as const

/** Who gets which instrument. */
export default function HandOut() {
  const { page = '' } = useParams()
  const Page = pages.find(([key]) => key === page)?.[2] ?? Propose
  return (
    <section>
      <h1>Hand-out</h1>
      <nav aria-label="Hand-out" className="line mt-2 flex flex-wrap gap-x-5">
        {pages.map(([key, name]) => (
          <NavLink
            key={key}
            end
            to={key ? `/hand-out/${key}` : '/hand-out'}
            className={({ isActive }) =>
              `-mb-px border-b-2 py-1.5 ${isActive ? 'border-primary font-bold' : 'quiet border-transparent'}`
            }
          >
            {name}
          </NavLink>
        ))}
      </nav>
      <div className="mt-3">
        <Page />
      </div>
    </section>
  )
}
