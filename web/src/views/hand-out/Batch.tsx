import { useWords } from '../../api/words'
import { useState } from 'react'
import { useForm } from 'react-hook-form'
import { Link } from 'react-router'
import { api, Problem, take, type Schemas } from '../../api/client'
import { refresh, useInstruments, useMay, usePlayers } from '../../api/queries'
import { useWrite } from '../../api/write'
import { takesTags, useTakeScans } from '../../shell/keys'
import { labelSheet } from '../../shell/labelSheet'
import { useUndo } from '../../shell/notice'
import { count } from '../../words'

type Line = { key: string; tag: string; instrument: string; player: string; says: string; events: string[] }

/** A class in a row: tag, card, tag, card. Each pair goes out as soon as its card is read. */
export function Batch() {
  const { card_code } = useWords()
  const { data: instruments } = useInstruments()
  const { data: players } = usePlayers()
  const may = useMay('change instruments')
  const [tag, setTag] = useState<Schemas['Listed']>()
  const { register, getValues, reset } = useForm({ defaultValues: { typed: '' } })
  const [wrong, setWrong] = useState('')
  const [lines, setLines] = useState<Line[]>([])
  const undo = useUndo(setWrong)
  const give = useWrite({
    send: (pair: { instrument: Schemas['Listed']; player: Schemas['ListedPlayer'] }) =>
      take(
        api.POST('/api/v1/hand-outs', {
          body: { pairs: [{ instrument_id: pair.instrument.id, player_id: pair.player.id }] },
        }),
      ),
    onSuccess: async (result, { instrument, player }) => {
      setLines((all) => [
        {
          key: result.events[0] ?? '',
          tag: instrument.tag,
          instrument: instrument.id,
          player: player.name,
          says: result.amiss[0] ?? '',
          events: result.events,
        },
        ...all,
      ])
      await refresh()
    },
    onError: (problem) =>
      setWrong(
        problem instanceof Problem && !problem.passing ? `${problem.message} Nothing was handed out.` : problem.message,
      ),
  })
  const read = (text: string) => {
    const code = text.trim().toUpperCase()
    const instrument = instruments?.find((i) => i.tag === code)
    const player = players?.find((p) => p.card === code)
    setWrong('')
    reset()
    const holder = instrument && (lines.find((l) => l.instrument === instrument.id)?.player ?? instrument.holder)
    if (instrument && (holder || instrument.played)) {
      setTag(undefined)
      setWrong(`${code} is in the hands of ${holder || 'somebody'}. Take it back first.`)
    } else if (instrument && tag?.id === instrument.id) setWrong(`${code} was read twice. Now the card of the player.`)
    else if (instrument && (instrument.held || instrument.stopped))
      setWrong(
        `${code} is ${instrument.stopped ? `stopped: ${instrument.stopped}` : `held: ${instrument.held ?? ''}`}. Take another.`,
      )
    else if (instrument) setTag(instrument)
    else if (player && !tag) setWrong(`That is the card of ${player.name}. Read the tag of the instrument first.`)
    else if (player?.left_on) setWrong(`${player.name} has left.`)
    else if (player && tag) {
      give.mutate({ instrument: tag, player })
      setTag(undefined)
    } else setWrong(`“${text}” is no tag and no card here.`)
  }
  useTakeScans((text) => {
    if (!may) return false
    if (instruments && players) read(text)
    else setWrong('The lists are not here yet. Read it once more.')
    return true
  })
  if (!may) return <p className="quiet">Only a director or an assistant hands instruments out.</p>
  const waiting = players?.filter((p) => !p.left_on) ?? []
  return (
    <section aria-label="Batch" className="max-w-2xl">
      <p>
        Read the tag of an instrument, then the card of its player, and so on through the class.{' '}
        <a className="link" href={cards(waiting)} target="_blank" rel="noreferrer">
          Print {count(waiting.length, 'card')}
        </a>
      </p>
      <p className="mt-4 text-2xl font-display" role="status">
        {tag ? (
          <>
            <b>{tag.tag}</b>{' '}
            <span className="text-base font-sans">
              {tag.kind_name} {tag.size}
            </span>{' '}
            → now a player’s card
          </>
        ) : (
          'Now the tag of an instrument'
        )}
      </p>
      <form
        className="mt-2 flex gap-2"
        onSubmit={(e) => {
          e.preventDefault() // at once: a scanner types on
          const typed = getValues('typed')
          if (typed.trim()) read(typed)
        }}
      >
        <input
          className="input w-64"
          aria-label="Tag or card"
          placeholder={tag ? `Card, as ${card_code}…` : 'Tag'}
          {...takesTags}
          {...register('typed')}
        />
        <button className="btn">Read</button>
        {tag && (
          <button type="button" className="because" onClick={() => setTag(undefined)}>
            not this one
          </button>
        )}
      </form>
      {wrong && (
        <p role="alert" className="mt-2 font-bold text-error">
          {wrong}
        </p>
      )}
      {lines.length > 0 && <h2 className="mt-5">{count(lines.length, 'instrument')} handed out</h2>}
      <ul>
        {lines.map((l) => (
          <li key={l.key} className="line flex items-center gap-3 py-1.5">
            <Link to={`/instruments/${l.instrument}`} className="w-20 font-bold tracking-wide">
              {l.tag}
            </Link>
            <span className="flex-1">
              {l.player} {l.says && <span className="text-sm text-warning">{l.says}</span>}
            </span>
            <button
              className="because"
              aria-label={`Undo: ${l.tag}, ${l.player}`}
              disabled={undo.isPending}
              onClick={() => {
                undo.mutate(l.events, { onSuccess: () => setLines((all) => all.filter((x) => x.key !== l.key)) })
              }}
            >
              undo
            </button>
          </li>
        ))}
      </ul>
    </section>
  )
}

const cards = (players: Schemas['ListedPlayer'][]) => {
  const sheet = labelSheet()
  return `/api/v1/labels.pdf?players=${players.map((p) => p.id).join(',')}${sheet && `&sheet=${sheet}`}`
}
