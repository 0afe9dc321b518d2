import { useParams } from 'react-router'
import { NotThere } from '../../shell/NotThere'
import { Pages } from '../../shell/Pages'
import { Batch } from './Batch'
import { Notices } from './Notices'
import { Players } from './Players'
import { Propose } from './Propose'
import { Rented } from './Rented'
import { Roster } from './Roster'
import { SizeOrder } from './SizeOrder'

const pages = [
  ['', 'Propose', Propose],
  ['batch', 'Batch', Batch],
  ['players', 'Players', Players],
  ['sizes', 'Size order', SizeOrder],
  ['rented', 'Rented', Rented],
  ['notices', 'Notices', Notices],
  ['roster', 'Roster', Roster],
] as const

/** Who gets which instrument. */
export default function HandOut() {
  const { page = '' } = useParams()
  const Page = pages.find(([key]) => key === page)?.[2]
  return (
    <section>
      <h1>Hand-out</h1>
      <Pages label="Hand-out" base="/hand-out" pages={pages} />
      <div className="mt-3">{Page ? <Page /> : <NotThere back="/hand-out" name="Hand-out" />}</div>
    </section>
  )
}
