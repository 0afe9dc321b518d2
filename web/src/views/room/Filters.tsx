import type { Schemas } from '../../api/client'
import { useWords } from '../../api/words'
import { Mark } from '../../marks/Mark'

type Listed = Schemas['Listed']

export type Filter = {
  words: string
  section: string
  mark: Listed['mark'] | ''
  grade: Listed['grade'] | ''
  work: string
  where: Where | ''
  ensemble: string
}

export const noFilter: Filter = { words: '', section: '', mark: '', grade: '', work: '', where: '', ensemble: '' }

const places = {
  players: { name: 'with players', is: (i: Listed) => i.played },
  sets: { name: 'class sets', is: (i: Listed) => i.class_set },
  here: { name: 'here, in nobody’s hands', is: (i: Listed) => !i.played && !i.at_shop },
  shop: { name: 'at the shop', is: (i: Listed) => i.at_shop },
  rented: { name: 'rented', is: (i: Listed) => i.rented },
}
type Where = keyof typeof places

/** Which instruments a filter lets through. */
export function fits(f: Filter) {
  const words = f.words.toLowerCase().split(/\s+/)
  return (i: Listed) => {
    const text =
      `${i.tag} ${i.kind_name} ${i.size} ${i.maker} ${i.model} ${i.serial} ${i.room} ${i.slot} ${i.holder} ${i.ensembles.join(' ')}`.toLowerCase()
    return (
      (!f.section || i.section === f.section) &&
      (!f.mark || i.mark === f.mark) &&
      (!f.grade || i.grade === f.grade) &&
      (!f.work || i.work.includes(f.work)) &&
      (!f.ensemble || i.ensembles.includes(f.ensemble)) &&
      (!f.where || places[f.where].is(i)) &&
      words.every((w) => text.includes(w))
    )
  }
}

export function Filters(props: { all: Listed[]; filter: Filter; onChange: (f: Filter) => void }) {
  const { all, filter, onChange } = props
  const { marks, grades } = useWords()
  const set = (change: Partial<Filter>) => onChange({ ...filter, ...change })
  const work = [...new Set(all.flatMap((i) => i.work))].sort()
  const ensembles = [...new Set(all.flatMap((i) => i.ensembles))].sort()
  const choice = (label: string, value: string, options: [string, string][], change: (v: string) => void) => (
    <select
      className="select select-sm w-full min-w-0 md:w-33"
      aria-label={label}
      value={value}
      onChange={(e) => change(e.currentTarget.value)}
    >
      <option value="">{label}</option>
      {options.map(([key, name]) => (
        <option key={key} value={key}>
          {name}
        </option>
      ))}
    </select>
  )
  return (
    <div className="mt-2 flex flex-wrap items-center gap-1.5">
      <div className="flex gap-1 overflow-x-auto md:flex-wrap" role="group" aria-label="Marks">
        {marks.map(({ key, words, short }) => {
          const m = key as Listed['mark']
          const n = all.filter((i) => i.mark === m).length
          const on = filter.mark === m
          return (
            <button
              key={m}
              aria-pressed={on}
              className={`flex shrink-0 cursor-pointer items-center gap-1 rounded-md border py-0.5 pr-1.5 pl-0.5 text-[13px] ${on ? 'border-base-content bg-base-200' : 'border-base-300'}`}
              onClick={() => set({ mark: on ? '' : m })}
            >
              <Mark name={m} className="h-5 w-4" /> {short ?? words} <b>{n}</b>
            </button>
          )
        })}
      </div>
      <div className="grid w-full grid-cols-2 gap-1.5 md:ml-auto md:flex md:w-auto md:flex-wrap">
        <input
          type="search"
          className="input input-sm col-span-2 w-full md:w-44"
          placeholder="Tag, name, slot…"
          aria-label="Find in the room"
          value={filter.words}
          onChange={(e) => set({ words: e.currentTarget.value })}
        />
        {choice(
          'All sections',
          filter.section,
          [...new Set(all.map((i) => i.section))].map((s) => [s, s]),
          (section) => set({ section }),
        )}
        {choice(
          'All grades',
          filter.grade,
          grades.map((g) => [g.key, g.words]),
          (grade) => set({ grade: grade as Filter['grade'] }),
        )}
        {choice(
          'Any work',
          filter.work,
          work.map((w) => [w, w]),
          (w) => set({ work: w }),
        )}
        {choice(
          'Anywhere',
          filter.where,
          Object.entries(places).map(([key, { name }]) => [key, name]),
          (where) => set({ where: where as Filter['where'] }),
        )}
        {ensembles.length > 0 &&
          choice(
            'Any ensemble',
            filter.ensemble,
            ensembles.map((e) => [e, e]),
            (ensemble) => set({ ensemble }),
          )}
      </div>
    </div>
  )
}
