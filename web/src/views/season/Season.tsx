import { useParams } from 'react-router'
import { NotThere } from '../../shell/NotThere'
import { Pages } from '../../shell/Pages'
import { Plan } from './Plan'
import { Readiness } from './Readiness'

const pages = [
  ['', 'The score', Plan],
  ['readiness', 'Ready for the concert', Readiness],
] as const

/** The whole year's work on its weeks, and who will be ready for which concert. */
export default function Season() {
  const { page = '' } = useParams()
  const Page = pages.find(([key]) => key === page)?.[2]
  return (
    <section>
      <h1>Season</h1>
      <Pages label="Season" base="/season" pages={pages} />
      <div className="mt-3">{Page ? <Page /> : <NotThere back="/season" name="Season" />}</div>
    </section>
  )
}
