import { useParams } from 'react-router'
import { NotThere } from '../../shell/NotThere'
import { Pages } from '../../shell/Pages'
import { Jobs } from './Jobs'
import { Shops } from './Shops'
import { Trips } from './Trips'

const pages = [
  ['', 'Jobs', Jobs],
  ['trips', 'Trips', Trips],
  ['shops', 'Shops', Shops],
] as const

/** Repairs, from the first complaint to back in its slot. */
export default function Shop() {
  const { page = '' } = useParams()
  const Page = pages.find(([key]) => key === page)?.[2]
  return (
    <section>
      <h1>Shop</h1>
      <Pages label="Shop" base="/shop" pages={pages} />
      <div className="mt-3">{Page ? <Page /> : <NotThere back="/shop" name="Shop" />}</div>
    </section>
  )
}
