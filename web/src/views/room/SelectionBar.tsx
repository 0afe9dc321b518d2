import { useState } from 'react'
import { api, take, type Schemas } from '../../api/client'
import { refresh } from '../../api/queries'
import { useWrite } from '../../api/write'
import { useNotice } from '../../shell/notice'
import { count } from '../../words'
import { ChangeMany } from './ChangeMany'
import { Labels } from '../../shell/Labels'
import { movesTo } from './moving'

type Listed = Schemas['Listed']

type Props = {
  selected: Listed[]
  walls: Schemas['Wall'][]
  all: Listed[]
  onMove: ((moves: Schemas['Move'][]) => void) | undefined
  onClear: () => void
}

/** What can be done with all that are selected. onMove is there for who may change instruments. */
export function SelectionBar({ selected, walls, all, onMove, onClear }: Props) {
  const [open, setOpen] = useState<'change' | 'labels' | 'return'>()
  const out = selected.filter((i) => i.played)
  const toggle = (what: typeof open) => setOpen(open === what ? undefined : what)
  return (
    <div role="group" aria-label="Those selected" className="sticky top-0 z-10 mt-2 bg-base-200 px-3 py-1.5">
      <div className="flex flex-wrap items-center gap-2">
        <b>{selected.length} selected</b>
        {onMove && <MoveTo selected={selected} walls={walls} all={all} onMove={onMove} />}
        {onMove && (
          <button className="btn bg-base-100 btn-sm" aria-expanded={open === 'change'} onClick={() => toggle('change')}>
            Change…
          </button>
        )}
        {onMove && out.length > 0 && (
          <button className="btn bg-base-100 btn-sm" aria-expanded={open === 'return'} onClick={() => toggle('return')}>
            Take back {out.length}…
          </button>
        )}
        <button className="btn bg-base-100 btn-sm" aria-expanded={open === 'labels'} onClick={() => toggle('labels')}>
          Labels…
        </button>
        <button className="btn bg-base-100 btn-sm" onClick={onClear}>
          Clear
        </button>
      </div>
      {open === 'change' && onMove && <ChangeMany instruments={selected} onDone={onClear} />}
      {open === 'labels' && <Labels query={`tags=${selected.map((i) => i.tag).join(',')}`} labels={selected.length} />}
      {open === 'return' && out.length > 0 && <TakeBack out={out} onDone={onClear} />}
    </div>
  )
}

function MoveTo({
  selected,
  walls,
  all,
  onMove,
}: Omit<Props, 'onClear' | 'onMove'> & { onMove: NonNullable<Props['onMove']> }) {
  const [to, setTo] = useState('')
  const [room, slot] = to.split('\t')
  const target = walls.find((w) => w.room === room)
  const moves = target && slot ? movesTo(target, slot, selected, all) : []
  return (
    <>
      <select
        className="select select-sm w-56"
        aria-label="Move them to"
        value={to}
        onChange={(e) => setTo(e.currentTarget.value)}
      >
        <option value="">Move them to…</option>
        {walls.map((w) => (
          <optgroup key={w.room} label={w.room || 'No room'}>
            {w.shelves.flatMap((s) =>
              s.places
                .filter((p) => p.tags.length === 0 || p === s.places[0])
                .map((p) => (
                  <option key={p.name} value={`${w.room}\t${p.name}`}>
                    from {p.name}
                  </option>
                )),
            )}
          </optgroup>
        ))}
      </select>
      <button className="btn btn-primary btn-sm" disabled={moves.length === 0} onClick={() => onMove(moves)}>
        Move {moves.length > 0 && moves.length < selected.length && `${String(moves.length)} of them`}
      </button>
    </>
  )
}

/** Everything comes back at once, as in June: what is found is found at the bench. */
function TakeBack({ out, onDone }: { out: Listed[]; onDone: () => void }) {
  const notice = useNotice()
  const back = useWrite({
    send: (instruments: string[]) => take(api.POST('/api/v1/returns', { body: { instruments } })),
    onSuccess: async ({ events }) => {
      notice.show(`${count(events.length, 'instrument')} taken back.`, events)
      onDone()
      await refresh()
    },
  })
  return (
    <div className="mt-2 max-w-2xl border-l-3 border-warning pl-3">
      <p className="text-sm">
        Gloves before a case is opened that was in somebody’s hands. Taken back so, nobody looks what changed since and
        nothing is charged; each waits for its turnover and is looked over there. One by one, with a look, goes by{' '}
        <i>Return</i> in an instrument’s file.
      </p>
      <button
        className="btn btn-primary btn-sm mt-2"
        disabled={back.isPending}
        onClick={() => back.mutate(out.map((i) => i.id))}
      >
        Take back {count(out.length, 'instrument')} unseen
      </button>
      {back.error && (
        <p role="alert" className="mt-1 text-sm text-error">
          {back.error.message}
        </p>
      )}
    </div>
  )
}
