import { api, take, type Schemas } from '../../api/client'
import { refresh, useAddable, useSettings } from '../../api/queries'
import { useWrite } from '../../api/write'
import { useEntry } from '../../shell/entry'
import { useNotice } from '../../shell/notice'
import { count } from '../../words'

type Change = Omit<Schemas['Many'], 'players'>

/** One change of all players that are selected. */
export function Many({ players, onDone }: { players: Schemas['ListedPlayer'][]; onDone: () => void }) {
  const { data: settings } = useSettings()
  const { data: kinds } = useAddable()
  const notice = useNotice()
  const { register, submit } = useEntry({ defaultValues: { grade_year: '' } })
  const change = useWrite({
    send: (change: Change) =>
      take(api.PATCH('/api/v1/players', { body: { ...change, players: players.map((p) => p.id) } })),
    onSuccess: async ({ events }) => {
      notice.show(events.length > 0 ? `${count(players.length, 'player')} changed.` : 'Nothing had changed.', events)
      onDone()
      await refresh()
    },
  })
  const choice = (label: string, options: { key: string; name: string }[], make: (key: string) => Change) => (
    <select
      className="select select-sm w-44"
      aria-label={label}
      value=""
      disabled={change.isPending}
      onChange={(e) => change.mutate(make(e.currentTarget.value))}
    >
      <option value="" disabled>
        {label}…
      </option>
      {options.map((o) => (
        <option key={o.key} value={o.key}>
          {o.name}
        </option>
      ))}
    </select>
  )
  const ensembles = settings?.ensembles.map((e) => ({ key: e.id, name: e.name })) ?? []
  return (
    <div
      role="group"
      aria-label="Change those selected"
      className="sticky top-0 z-10 mt-2 flex flex-wrap items-center gap-2 bg-base-200 px-3 py-2"
    >
      <b>{players.length} selected</b>
      {choice('Play in', ensembles, (id) => ({ join: [id] }))}
      {choice('Leave', ensembles, (id) => ({ leave: [id] }))}
      {choice('Learn', kinds ?? [], (kind) => ({ kind }))}
      <form className="flex gap-1" onSubmit={submit((v) => change.mutate(v))}>
        <input
          className="input input-sm w-20"
          aria-label="Year"
          placeholder="Year"
          maxLength={20}
          {...register('grade_year')}
        />
        <button className="btn btn-sm" disabled={change.isPending}>
          Set
        </button>
      </form>
      {choice(
        'Here or gone',
        [
          { key: 'left', name: 'have left today' },
          { key: 'here', name: 'are here after all' },
        ],
        (is) => ({ left: is === 'left' }),
      )}
      <button className="because ml-auto" onClick={onDone}>
        none
      </button>
      {change.error && (
        <p role="alert" className="w-full text-sm text-error">
          {change.error.message}
        </p>
      )}
    </div>
  )
}
