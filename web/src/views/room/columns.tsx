import type { ReactNode } from 'react'
import { useState } from 'react'
import { Link } from 'react-router'
import type { Schemas } from '../../api/client'
import type { useWords } from '../../api/words'
import { Mark } from '../../marks/Mark'
import { away, daysBetween } from '../../words'

type Listed = Schemas['Listed']

export type Column = {
  key: string
  name: string
  /** Its track in the grid, on the screen and on paper. */
  width: string
  paper?: string
  /** What it is sorted by, where there is something; without it in score order. */
  by?: (i: Listed) => string | undefined
  cell: (i: Listed) => ReactNode
  quiet?: boolean
}

/** All that the list can show. The mark and the tag always stand. */
export const columnsOf = (words: ReturnType<typeof useWords>, today: string | undefined): Column[] => [
  {
    key: 'mark',
    name: 'Mark',
    width: '30px',
    by: (i) => String(words.marks.findIndex((m) => m.key === i.mark)),
    cell: (i) => <Mark name={i.mark} className="h-6" />,
  },
  {
    key: 'tag',
    name: 'Tag',
    width: '64px',
    by: (i) => i.tag,
    cell: (i) => (
      <Link to={`/instruments/${i.id}`} className="font-bold tracking-wide">
        {i.tag}
      </Link>
    ),
  },
  { key: 'kind', name: 'Kind', width: 'minmax(90px,1fr)', cell: (i) => `${i.kind_name} ${i.size}` },
  {
    key: 'holder',
    name: 'Who has it',
    width: 'minmax(90px,1fr)',
    by: (i) => holder(i) || undefined,
    cell: holder,
  },
  {
    key: 'ensembles',
    name: 'Ensembles',
    width: 'minmax(80px,1fr)',
    by: (i) => i.ensembles.join(', ') || undefined,
    cell: (i) => i.ensembles.join(', '),
    quiet: true,
  },
  {
    key: 'serial',
    name: 'Serial number',
    width: 'minmax(70px,110px)',
    by: (i) => i.serial || undefined,
    cell: (i) => i.serial,
    quiet: true,
  },
  {
    key: 'maker',
    name: 'Maker',
    width: 'minmax(0,1fr)',
    by: (i) => `${i.maker} ${i.model}`,
    cell: (i) => `${i.maker} ${i.model}`,
    quiet: true,
  },
  { key: 'room', name: 'Room', width: 'minmax(0,110px)', by: (i) => i.room, cell: (i) => i.room, quiet: true },
  {
    key: 'slot',
    name: 'Slot',
    width: '60px',
    paper: '46px',
    by: (i) => `${i.room} ${i.slot}`,
    cell: (i) => i.slot,
    quiet: true,
  },
  {
    key: 'grade',
    name: 'Grade',
    width: '110px',
    paper: '64px',
    by: (i) => String(words.grades.length - words.grades.findIndex((g) => g.key === i.grade)),
    cell: (i) => (
      <span className={`text-sm ${i.grade === 'concert' ? 'quiet' : ''}`}>
        {i.never_seen ? 'not looked over' : words.gradeShort(i.grade)}
      </span>
    ),
  },
  {
    key: 'next',
    name: 'Next work',
    width: 'minmax(0,1.6fr)',
    by: (i) => i.next_on ?? undefined,
    cell: (i) => <NextWork i={i} today={today} />,
  },
]

/** Who has an instrument, or whose class set it is. */
function holder(i: Listed) {
  return i.holder || (i.class_set ? `class set, ${i.ensembles.join(', ')}` : '')
}

function NextWork({ i, today }: { i: Listed; today: string | undefined }) {
  if (i.stopped) return <b className="text-sm text-error">{i.stopped}</b>
  return (
    <span className="text-sm">
      {i.next}{' '}
      {i.next_on && today && (
        <span className={i.late > 0 ? 'text-error' : i.due > 0 ? 'text-warning' : 'quiet'}>
          {away(daysBetween(today, i.next_on))}
        </span>
      )}
    </span>
  )
}

const usual = { wide: ['kind', 'maker', 'slot', 'grade', 'next'], narrow: ['kind', 'slot'] }

/** Which columns somebody wants to see beside the mark and the tag, for wide screens and for phones. */
export function useChosen(screen: 'wide' | 'narrow') {
  const drawer = `solfeggio-columns-${screen}`
  const [kept, setKept] = useState<Record<string, string[]>>({})
  const read = () => {
    const text = localStorage.getItem(drawer)
    return text ? text.split(' ') : usual[screen]
  }
  const chosen = kept[screen] ?? read()
  return {
    chosen,
    choose: (keys: string[]) => {
      localStorage.setItem(drawer, keys.join(' '))
      setKept({ ...kept, [screen]: keys })
    },
  }
}
