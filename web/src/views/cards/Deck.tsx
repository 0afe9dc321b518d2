import { useState } from 'react'
import { Link, useSearchParams } from 'react-router'
import { api, take, type Schemas } from '../../api/client'
import { refresh, useMay } from '../../api/queries'
import { useWrite } from '../../api/write'
import { Drawing } from '../../drawings/Drawing'
import { useNotice } from '../../shell/notice'
import { Reached } from '../../shell/Reached'
import { count, nearDay } from '../../words'
import { CardFace } from './CardFace'
import { Choice } from './Choice'
import { useCard, useDeck } from './queries'

type Carded = Schemas['Carded']

/** Which instruments have a card; cards are made, looked at and printed here. */
export function Deck() {
  const { data: deck } = useDeck()
  const [ensemble, setEnsemble] = useState('')
  const [section, setSection] = useState('')
  const [size, setSize] = useState('a6')
  const [language, setLanguage] = useState('en')
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set())
  const [query] = useSearchParams()
  const [open, setOpen] = useState(query.get('open') ?? undefined)
  if (!deck) return <p className="quiet">Reading the cards…</p>
  if (deck.cards.length === 0)
    return (
      <p>
        There is no instrument yet.{' '}
        <Link className="link" to="/room/add">
          Add one
        </Link>
        , and its card is made here.
      </p>
    )
  const shown = deck.cards.filter(
    (c) => (ensemble === '' || c.ensembles.includes(ensemble)) && (section === '' || c.section === section),
  )
  const marked = shown.filter((c) => chosen.has(c.id))
  const these = marked.length > 0 ? marked : shown
  const first = open ?? these[0]?.id
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-7 lg:grid-cols-[minmax(0,1fr)_380px]">
      <div className="min-w-0">
        <div className="flex flex-wrap items-end gap-2">
          <Choice
            label="Ensemble"
            value={ensemble}
            onChange={setEnsemble}
            all="All ensembles"
            list={among(deck.cards.flatMap((c) => c.ensembles))}
          />
          <Choice
            label="Section"
            value={section}
            onChange={setSection}
            all="All sections"
            list={among(deck.cards.map((c) => c.section))}
          />
          <Choice label="Size" value={size} onChange={setSize} list={deck.sizes.map((s) => [s.key, s.name])} />
          <Choice
            label="Language"
            value={language}
            onChange={setLanguage}
            list={deck.languages.map((l) => [l.key, l.draft ? `${l.name} (draft)` : l.name])}
          />
        </div>
        <Making these={these} size={size} language={language} onMade={() => setChosen(new Set())} />
        <ul className="mt-2">
          {shown.map((c) => (
            <Row
              key={c.id}
              card={c}
              chosen={chosen.has(c.id)}
              current={c.id === first}
              onChoose={() => {
                const next = new Set(chosen)
                if (!next.delete(c.id)) next.add(c.id)
                setChosen(next)
              }}
              onOpen={() => setOpen(c.id)}
            />
          ))}
        </ul>
      </div>
      <Preview id={first} language={language} />
    </div>
  )
}

const among = (list: string[]): [string, string][] => [...new Set(list)].map((x) => [x, x])

/** Makes what is missing, prints what is there. */
function Making({
  these,
  size,
  language,
  onMade,
}: {
  these: Carded[]
  size: string
  language: string
  onMade: () => void
}) {
  const may = useMay('change instruments')
  const notice = useNotice()
  const missing = these.filter((c) => !c.path)
  const [sure, setSure] = useState(false)
  const make = useWrite({
    send: (body: Schemas['Making']) => take(api.POST('/api/v1/cards', { body })),
    onSuccess: async (made) => {
      notice.show(`${count(made.cards, 'card')} made.`)
      setSure(false)
      onMade()
      await refresh()
    },
    onError: (problem) => notice.show(problem.message),
  })
  const ready = these.length - missing.length
  const query = new URLSearchParams({
    instruments: these
      .filter((c) => c.path)
      .map((c) => c.id)
      .join(','),
    size,
    language,
  })
  return (
    <div className="mt-3 flex flex-wrap items-center gap-2">
      {may && missing.length > 0 && (
        <button
          className="btn btn-sm btn-primary"
          disabled={make.isPending}
          onClick={() => make.mutate({ instruments: missing.map((c) => c.id) })}
        >
          Make {count(missing.length, 'card')}
        </button>
      )}
      {ready > 0 && (
        <Reached>
          {() => (
            <a className="btn btn-sm" href={`/api/v1/cards.pdf?${query.toString()}`} target="_blank" rel="noreferrer">
              Print {count(ready, 'card')}
            </a>
          )}
        </Reached>
      )}
      {may && ready > 0 && !sure && (
        <button className="because" onClick={() => setSure(true)}>
          new addresses…
        </button>
      )}
      {sure && (
        <span role="alert" className="text-sm">
          The cards printed before lead nowhere any more.{' '}
          <button
            className="btn btn-sm btn-error"
            disabled={make.isPending}
            onClick={() => make.mutate({ instruments: these.filter((c) => c.path).map((c) => c.id), anew: true })}
          >
            New addresses for {ready}
          </button>{' '}
          <button className="because" onClick={() => setSure(false)}>
            leave them
          </button>
        </span>
      )}
    </div>
  )
}

function Row(props: { card: Carded; chosen: boolean; current: boolean; onChoose: () => void; onOpen: () => void }) {
  const { card: c } = props
  return (
    <li className={`line flex items-center gap-2 ${props.current ? 'bg-base-200' : ''}`}>
      <label className="flex min-h-9 items-center px-1">
        <input
          type="checkbox"
          className="checkbox checkbox-sm"
          aria-label={`Choose ${c.tag}`}
          checked={props.chosen}
          onChange={props.onChoose}
        />
      </label>
      <button className="flex min-w-0 flex-1 cursor-pointer items-center gap-2 py-1 text-left" onClick={props.onOpen}>
        <Drawing name={c.drawing} label="" small className="h-6 w-6 shrink-0" />
        <b className="w-16 shrink-0 tracking-wide">{c.tag}</b>
        <span className="min-w-0 flex-1 truncate">{c.kind_name}</span>
        <span className="quiet hidden shrink-0 text-sm sm:inline">
          {c.made_on ? `made ${nearDay(c.made_on)}` : 'no card yet'}
        </span>
      </button>
    </li>
  )
}

function Preview({ id, language }: { id: string | undefined; language: string }) {
  const { data: card } = useCard(id, language)
  if (!card) return null
  return (
    <aside className="lg:sticky lg:top-4 lg:self-start" aria-label={`Card of ${card.tag}`}>
      <CardFace card={card} language={language} />
      {card.path ? (
        <p className="mt-2 text-sm">
          <a className="link" href={`${card.path}?l=${language}`} target="_blank" rel="noreferrer">
            Open its page
          </a>{' '}
          <span className="quiet">as a player sees it; no sign-in, no name.</span>
        </p>
      ) : (
        <p className="quiet mt-2 text-sm">Its page has an address once the card is made.</p>
      )}
    </aside>
  )
}
