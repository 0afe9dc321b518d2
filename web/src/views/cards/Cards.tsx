import { useParams } from 'react-router'
import { NotThere } from '../../shell/NotThere'
import { Pages } from '../../shell/Pages'
import { Deck } from './Deck'
import { Drills } from './Drills'
import { Habits } from './Habits'
import { Lessons } from './Lessons'
import { PackUp } from './PackUp'
import { Reports } from './Reports'

const pages = [
  ['', 'Care cards', Deck],
  ['reports', 'Reports', Reports],
  ['pack-up', 'Pack-up', PackUp],
  ['drills', 'Drills', Drills],
  ['lessons', 'First lesson', Lessons],
  ['habits', 'Habits', Habits],
] as const

/** The players' own part of the care. */
export default function Cards() {
  const { page = '' } = useParams()
  const Page = pages.find(([key]) => key === page)?.[2]
  return (
    <section>
      <h1>Cards</h1>
      <Pages label="Cards" base="/cards" pages={pages} />
      <div className="mt-4">{Page ? <Page /> : <NotThere back="/cards" name="Cards" />}</div>
    </section>
  )
}
