import { useParams } from 'react-router'
import { NotThere } from '../../shell/NotThere'
import { Pages } from '../../shell/Pages'
import { Costs } from './Costs'
import { KitTiers } from './KitTiers'
import { Ordering } from './Ordering'
import { Orders } from './Orders'
import { Refill } from './Refill'
import { Stock } from './Stock'

const pages = [
  ['', 'Refill', Refill],
  ['stock', 'Stock', Stock],
  ['order', 'To order', Ordering],
  ['orders', 'Orders', Orders],
  ['kits', 'Where things are', KitTiers],
  ['costs', 'What a kit costs', Costs],
] as const

/** What kits and bench use up: what is missing, what is there, what to order, and what it costs. */
export default function Supplies() {
  const { page = '' } = useParams()
  const Page = pages.find(([key]) => key === page)?.[2]
  return (
    <section>
      <h1>Supplies</h1>
      <Pages label="Supplies" base="/supplies" pages={pages} />
      <div className="mt-3">{Page ? <Page /> : <NotThere back="/supplies" name="Supplies" />}</div>
    </section>
  )
}
