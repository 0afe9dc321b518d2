import { useParams } from 'react-router'
import { NotThere } from '../../shell/NotThere'
import { Pages } from '../../shell/Pages'
import { BeforeConcert } from './BeforeConcert'
import { Bows } from './Bows'
import { Lasting } from './Lasting'
import { Reeds } from './Reeds'
import { Strings } from './Strings'

const pages = [
  ['', 'Before the concert', BeforeConcert],
  ['strings', 'Strings', Strings],
  ['bows', 'Bows', Bows],
  ['reeds', 'Reeds', Reeds],
  ['lasting', 'What lasts how long', Lasting],
] as const

/** What is renewed again and again: how it stands, what must begin when, and how long it lasts here. */
export default function StringsReeds() {
  const { page = '' } = useParams()
  const Page = pages.find(([key]) => key === page)?.[2]
  return (
    <section>
      <h1>Strings &amp; Reeds</h1>
      <Pages label="Strings and reeds" base="/strings-reeds" pages={pages} />
      <div className="mt-3">{Page ? <Page /> : <NotThere back="/strings-reeds" name="Strings & Reeds" />}</div>
    </section>
  )
}
