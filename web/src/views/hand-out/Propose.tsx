import { useState } from 'react'
import { Link } from 'react-router'
import { api, take, type Schemas } from '../../api/client'
import { refresh, useMay, useProposal } from '../../api/queries'
import { useWrite } from '../../api/write'
import { useEntry } from '../../shell/entry'
import { useNotice } from '../../shell/notice'
import { Reason } from '../../shell/why'
import { count } from '../../words'
import { ToRent } from './ToRent'

type Pair = Schemas['ProposedPair']
type Weights = Schemas['Weights']

const weightNames: [keyof Weights, string][] = [
  ['size', 'Size'],
  ['grade', 'Grade'],
  ['kept', 'Keep the same'],
  ['rental', 'Rental ends'],
  ['travel', 'Way'],
  ['kit', 'Kit'],
]

const bare = ({ player_id, instrument_id }: Schemas['Pair']): Schemas['Pair'] => ({ player_id, instrument_id })
const same = (a: Schemas['Pair'], b: Schemas['Pair']) =>
  a.player_id === b.player_id && a.instrument_id === b.instrument_id

/** Players without an instrument beside the free ones, paired as well as can be. */
export function Propose() {
  const [weights, setWeights] = useState<Weights>({ size: 1, grade: 1, kept: 1, rental: 1, travel: 1, kit: 1 })
  const [pins, setPins] = useState<Schemas['Pair'][]>([])
  const [refusals, setRefusals] = useState<Schemas['Pair'][]>([])
  const { data: proposal, error } = useProposal({ weights, pins, refusals })
  const may = useMay('change instruments')
  const notice = useNotice()
  const give = useWrite({
    send: (pairs: Pair[]) => take(api.POST('/api/v1/hand-outs', { body: { pairs: pairs.map(bare) } })),
    onSuccess: async (result, pairs) => {
      notice.show(`${count(pairs.length, 'instrument')} handed out.`, result.events)
      await refresh()
    },
    onError: async (problem) => {
      notice.show(problem.message)
      await refresh() // somebody else may have given it away meanwhile
    },
  })
  if (error && !proposal) return <p role="alert">{error.message}</p>
  if (!proposal) return <p className="quiet">Measuring arms…</p>
  const { pairs, without, order } = proposal
  if (pairs.length === 0 && without.length === 0)
    return (
      <p>
        Every player who is known to learn an instrument has one.{' '}
        <Link className="link" to="/hand-out/roster">
          Bring a roster in
        </Link>{' '}
        or{' '}
        <Link className="link" to="/hand-out/players">
          add a player
        </Link>
        .
      </p>
    )
  return (
    <div className="grid gap-8 lg:grid-cols-[1fr_320px]">
      <section aria-label="Proposal">
        <div className="flex flex-wrap items-center gap-3">
          <p>
            {count(pairs.length, 'pair')} proposed{without.length > 0 && `, ${String(without.length)} without`}
          </p>
          {may && pairs.length > 0 && (
            <button
              className="btn btn-primary btn-sm ml-auto"
              disabled={give.isPending}
              onClick={() => give.mutate(pairs)}
            >
              Hand out all {pairs.length}
            </button>
          )}
        </div>
        <p className="mt-1 flex flex-wrap items-center gap-x-3 gap-y-1">
          <span className="quiet text-sm">What counts:</span>
          {weightNames.map(([key, name]) => (
            <label key={key} className="quiet flex items-center gap-1.5 text-sm">
              {name}
              <input
                type="number"
                className="input input-xs w-11"
                min={0}
                max={10}
                step={0.5}
                value={weights[key]}
                onChange={(e) => setWeights({ ...weights, [key]: e.currentTarget.valueAsNumber || 0 })}
              />
            </label>
          ))}
        </p>
        <ul className="mt-2">
          {pairs.map((p) => (
            <OnePair
              key={p.player_id}
              pair={p}
              mayGive={may}
              onPin={() =>
                setPins(p.pinned ? pins.filter((x) => !same(x, p)) : [...pins.filter((x) => !same(x, p)), bare(p)])
              }
              onRefuse={() => {
                setPins(pins.filter((x) => !same(x, p)))
                setRefusals([...refusals, bare(p)])
              }}
            />
          ))}
        </ul>
        {refusals.length > 0 && (
          <p className="quiet mt-2 text-sm">
            {count(refusals.length, 'pair')} ruled out.{' '}
            <button className="because" onClick={() => setRefusals([])}>
              allow them again
            </button>
          </p>
        )}
      </section>
      <aside>
        <h2>Without</h2>
        {without.length === 0 && <p className="quiet">Nobody.</p>}
        <ul>
          {without.map((w) => (
            <li key={w.player_id} className="line py-1">
              {w.player}{' '}
              <span className="quiet text-sm">
                {[w.kind_name, w.size].filter(Boolean).join(' ')}: {w.because}
              </span>
            </li>
          ))}
        </ul>
        {order.length > 0 && <ToRent title="To rent or buy" order={order} />}
        {proposal.at_home.length > 0 && <ToRent title="A second one at home" order={proposal.at_home} />}
      </aside>
    </div>
  )
}

type PairProps = { pair: Pair; mayGive: boolean; onPin: () => void; onRefuse: () => void }

function OnePair({ pair: p, mayGive, onPin, onRefuse }: PairProps) {
  const [asked, setAsked] = useState(false)
  const [promising, setPromising] = useState(false)
  return (
    <li className="line py-1.5">
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
        <b className="sm:w-40">{p.player}</b>
        <span aria-hidden>→</span>
        <Link to={`/instruments/${p.instrument_id}`} className="mr-auto font-bold tracking-wide">
          {p.tag}
        </Link>
        <span className="order-last w-full min-w-0 sm:pl-44">
          {p.kind_name} {p.size}{' '}
          {p.parts
            .filter((x) => x.says !== '' && (x.name !== 'kept' || x.cost === 0))
            .map((x, n) => (
              <span key={x.name} className={`text-sm ${x.cost > 0 ? 'text-warning' : 'quiet'}`}>
                {n > 0 && ' · '}
                {x.says}
              </span>
            ))}
          {p.remark !== '' && <span className="block text-sm italic">“{p.remark}”</span>}
        </span>
        <button className="because" aria-expanded={asked} onClick={() => setAsked(!asked)}>
          why
        </button>
        <button
          className={`btn btn-sm ${p.pinned ? 'btn-outline btn-primary' : ''}`}
          aria-pressed={p.pinned}
          aria-label={`Pin: ${p.player}, ${p.tag}`}
          onClick={onPin}
        >
          {p.pinned ? 'Pinned' : 'Pin'}
        </button>
        {mayGive && !p.promised_until && (
          <button
            className="btn btn-sm"
            aria-expanded={promising}
            aria-label={`Promise: ${p.player}, ${p.tag}`}
            onClick={() => setPromising(!promising)}
          >
            Promise
          </button>
        )}
        <button className="btn btn-sm" aria-label={`Not this one: ${p.player}, ${p.tag}`} onClick={onRefuse}>
          Not this
        </button>
        {mayGive && (
          <Link
            className="btn btn-outline btn-primary btn-sm"
            aria-label={`Hand out: ${p.player}, ${p.tag}`}
            to={`/hand-out/${p.instrument_id}/to/${p.player_id}`}
          >
            Hand out
          </Link>
        )}
      </div>
      {promising && <KeepFor pair={p} onDone={() => setPromising(false)} />}
      {asked && <Reason reason={p.why} />}
    </li>
  )
}

/** Keeps an instrument for a player by name until a day. A proposal that was only looked at is no promise. */
function KeepFor({ pair: p, onDone }: { pair: Pair; onDone: () => void }) {
  const notice = useNotice()
  const { register, submit } = useEntry({ defaultValues: { until: '' } })
  const keep = useWrite({
    send: ({ until }: { until: string }) => take(api.POST('/api/v1/promises', { body: { ...bare(p), until } })),
    onSuccess: async (result) => {
      notice.show(`${p.tag} is kept for ${p.player}.`, result.events)
      onDone()
      await refresh()
    },
  })
  return (
    <form
      aria-label={`Promise ${p.tag} to ${p.player}`}
      className="flex flex-wrap items-center gap-2 pt-1"
      onSubmit={submit((f) => keep.mutate(f))}
    >
      <span className="text-sm">Kept for {p.player}, and offered to nobody else, until</span>
      <input className="input input-sm w-40" type="date" aria-label="Until" required {...register('until')} />
      <button className="btn btn-primary btn-sm" disabled={keep.isPending}>
        Promise it
      </button>
      {keep.error && (
        <span role="alert" className="text-sm text-error">
          {keep.error.message}
        </span>
      )}
    </form>
  )
}
