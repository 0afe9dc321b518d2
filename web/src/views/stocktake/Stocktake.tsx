import { useEffect } from 'react'
import { useForm } from 'react-hook-form'
import { Link, useSearchParams } from 'react-router'
import { api, queryClient, take, type Schemas } from '../../api/client'
import { refresh, useMay, useStocktake, useWalls } from '../../api/queries'
import { useWrite } from '../../api/write'
import { takesTags, useTakeScans } from '../../shell/keys'
import { useNotice } from '../../shell/notice'
import { count } from '../../words'

type Take = Schemas['Stocktake']

/** Scan what is there, and see what is missing or out of place. The count is the server's: another phone may join in. */
export default function Stocktake() {
  const [params, setParams] = useSearchParams()
  const { data: walls } = useWalls()
  const room = params.get('room') ?? ''
  const id = params.get('count') ?? ''
  const may = useMay('inspect')
  const begin = useWrite({
    send: (room: string, id) => take(api.POST('/api/v1/stocktakes', { body: { id: id(), room } })),
    onSuccess: (taken) => {
      queryClient.setQueryData(['stocktake', taken.id], taken)
      setParams({ room: taken.room, count: taken.id }, { replace: true })
    },
  })
  if (!walls) return <p className="quiet">Counting the racks…</p>
  if (!id)
    return (
      <section className="max-w-xl">
        <h1>Stocktake</h1>
        <p className="mt-2">
          Scan or type the tag of everything that stands in the room. What belongs there and was not seen is named at
          once; what belongs elsewhere too.
        </p>
        <label className="mt-4 block">
          Room
          <select
            className="select mt-1 w-full"
            value={room}
            onChange={(e) => setParams({ room: e.currentTarget.value }, { replace: true })}
          >
            {walls.map((w) => (
              <option key={w.room} value={w.room}>
                {w.room || 'No room'}
              </option>
            ))}
          </select>
        </label>
        {begin.error && (
          <p role="alert" className="mt-2 text-error">
            {begin.error.message}
          </p>
        )}
        <button
          className="btn btn-primary mt-4"
          disabled={!may || begin.isPending}
          onClick={() => begin.mutate(room || (walls[0]?.room ?? ''))}
        >
          Begin
        </button>
      </section>
    )
  return <Count id={id} />
}

function Count({ id }: { id: string }) {
  const { data: taken, error } = useStocktake(id)
  const notice = useNotice()
  const { register, setValue, getValues } = useForm({ defaultValues: { tag: '', slot: '' } })
  const update = (t: Take) => queryClient.setQueryData(['stocktake', id], t)
  const scan = useWrite({
    send: (tag: string) =>
      take(
        api.POST('/api/v1/stocktakes/{id}/scans', {
          params: { path: { id } },
          body: { tag, slot: getValues('slot').toUpperCase() },
        }),
      ),
    onSuccess: update,
    onError: (problem, tag) => {
      if (!getValues('tag')) setValue('tag', tag)
      notice.show(`${tag} was not noted: ${problem.message}`)
    },
  })
  const end = useWrite({
    send: () => take(api.POST('/api/v1/stocktakes/{id}/end', { params: { path: { id } } })),
    onSuccess: async (t) => {
      update(t)
      await refresh()
    },
    onError: (problem) => notice.show(problem.message),
  })
  const putThere = useWrite({
    send: (moves: Schemas['Move'][]) => take(api.POST('/api/v1/moves', { body: { moves } })),
    onSuccess: async (result) => {
      notice.show('It belongs here now.', result.events)
      await refresh()
    },
    onError: (problem) => notice.show(problem.message),
  })
  const mayMove = useMay('change instruments')
  const { mutate } = scan
  useTakeScans((text) => {
    if (taken?.ended_at !== undefined) return false
    mutate(text)
    return true
  })
  useEffect(() => {
    document.getElementById('tag')?.focus()
  }, [])
  if (error && !taken) return <p role="alert">{error.message}</p>
  if (!taken) return null
  const ended = taken.ended_at !== undefined
  const elsewhere = taken.seen.filter((s) => s.state === 'other slot' || s.state === 'other room')
  const unknown = taken.seen.filter((s) => s.state === 'unknown')
  return (
    <section>
      <div className="flex flex-wrap items-baseline gap-x-4">
        <h1>Stocktake, {taken.room || 'no room'}</h1>
        <p className="quiet" role="status">
          {taken.expected - taken.missing.length} of the {count(taken.expected, 'instrument')} that belong here seen,{' '}
          {taken.missing.length} missing, {elsewhere.length + unknown.length} out of place; {taken.out} more with
          players{taken.at_shop > 0 && `, ${String(taken.at_shop)} at a shop`}
        </p>
        {!ended && (
          <button
            className="btn btn-outline btn-primary btn-sm ml-auto"
            disabled={end.isPending}
            onClick={() => end.mutate()}
          >
            End the count
          </button>
        )}
      </div>
      {ended ? (
        <p className="mt-2">
          The count has ended; the files of the missing say so.{' '}
          <Link className="link" to="/room">
            Back to the room
          </Link>
        </p>
      ) : (
        <form
          className="mt-3 flex max-w-xl flex-wrap items-end gap-2"
          onSubmit={(e) => {
            e.preventDefault() // all of it at once: a scanner types the next tag while a form would still be checked
            const tag = getValues('tag')
            setValue('tag', '')
            if (tag.trim()) mutate(tag)
          }}
        >
          <label className="min-w-40 flex-1">
            Tag
            <input
              id="tag"
              className="input mt-1 w-full"
              autoComplete="off"
              autoCapitalize="characters"
              placeholder="Scan or type"
              {...takesTags}
              {...register('tag')}
            />
          </label>
          <label className="w-28">
            Seen in slot
            <input
              className="input mt-1 w-full uppercase placeholder:normal-case"
              placeholder="optional"
              {...register('slot')}
            />
          </label>
          <button className="btn btn-primary">Note it</button>
        </form>
      )}
      <div className="mt-4 grid gap-8 md:grid-cols-3">
        <Column title="Missing" many={taken.missing.length} empty="Everything that belongs here was seen.">
          {taken.missing.map((m) => (
            <li key={m.tag} className="line flex gap-2 py-1">
              <Link to={`/instruments/${m.instrument_id}`} className="w-16 font-bold tracking-wide">
                {m.tag}
              </Link>
              <span className="min-w-0 flex-1 truncate">{m.kind_name}</span>
              <span className="quiet">{m.slot}</span>
            </li>
          ))}
        </Column>
        <Column title="Out of place" many={elsewhere.length + unknown.length} empty="Nothing so far.">
          {[...elsewhere, ...unknown].map((s) => (
            <li key={s.tag} className="line flex items-center gap-2 py-1">
              <b className="w-16 tracking-wide">{s.tag}</b>
              <span className="min-w-0 flex-1 text-sm">
                {s.state === 'unknown' ? 'no instrument has this tag' : `belongs in ${s.belongs || 'no place'}`}
                {s.slot && `, seen in ${s.slot}`}
              </span>
              {mayMove && s.instrument_id && (
                <button
                  className="because"
                  onClick={() =>
                    s.instrument_id &&
                    putThere.mutate([{ instrument_id: s.instrument_id, room: taken.room, slot: s.slot }])
                  }
                >
                  it belongs here
                </button>
              )}
            </li>
          ))}
        </Column>
        <Column title="Scanned" many={taken.seen.length} empty="Nothing scanned yet.">
          {taken.seen.map((s) => (
            <li key={s.tag} className="line flex gap-2 py-1">
              <b className="w-16 tracking-wide">{s.tag}</b>
              <span className="min-w-0 flex-1 truncate">{s.kind_name}</span>
              <span className="quiet text-sm">{s.state}</span>
            </li>
          ))}
        </Column>
      </div>
    </section>
  )
}

function Column(props: { title: string; many: number; empty: string; children: React.ReactNode }) {
  return (
    <section aria-label={props.title}>
      <h2>
        {props.title} <span className="quiet font-sans text-sm font-normal">{count(props.many, 'tag')}</span>
      </h2>
      {props.many === 0 ? <p className="quiet mt-1">{props.empty}</p> : <ul className="mt-1">{props.children}</ul>}
    </section>
  )
}
