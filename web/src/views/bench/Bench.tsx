import { useParams } from 'react-router'
import { NotThere } from '../../shell/NotThere'
import { Pages } from '../../shell/Pages'
import { Record } from './Record'
import { Waiting } from './Waiting'

const pages = [
  ['', 'Waiting', Waiting],
  ['record', 'Record', Record],
] as const

/** Turnovers, baths and deep cleaning: what waits, how it would go, and what was done. */
export default function Bench() {
  const { page = '' } = useParams()
  const Page = pages.find(([key]) => key === page)?.[2]
  return (
    <section>
      <h1>Bench</h1>
      <Pages label="Bench" base="/bench" pages={pages} />
      <div className="mt-3">{Page ? <Page /> : <NotThere back="/bench" name="Bench" />}</div>
    </section>
  )
}
