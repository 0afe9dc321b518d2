import { useState } from 'react'
import { api, take, type Schemas } from '../api/client'
import { refresh, useMay } from '../api/queries'
import { useWrite } from '../api/write'
import { useNotice } from './notice'
import { useEntry } from './entry'

const units = [
  ['days', 'Days'],
  ['playing_hours', 'Hours of playing'],
  ['sessions', 'Sessions'],
] as const

/** This instrument's own limit of a clock, in place of the usual one. */
export default function OwnLimit({ task, onSaved }: { task: Schemas['Task']; onSaved: () => void }) {
  const may = useMay('change instruments')
  const notice = useNotice()
  const own = (key: (typeof units)[number][0]) => String(task.own_limit?.[key] ?? '')
  const { register, submit } = useEntry({
    defaultValues: { days: own('days'), playing_hours: own('playing_hours'), sessions: own('sessions') },
  })
  const [seen] = useState(task.limit_version)
  const save = useWrite({
    send: (limits: Schemas['Limits'] | undefined) =>
      take(
        api.PUT('/api/v1/instruments/{id}/limit', {
          params: { path: { id: task.instrument_id }, query: { version: seen } },
          body: { routine: task.routine, part: task.part, limits },
        }),
      ),
    onSuccess: async (_, limits) => {
      onSaved()
      await refresh() // first, so that whoever asks Why again is shown the clock as it is now
      notice.show(limits ? `${task.tag} has its own limit now.` : `${task.tag} follows the usual limit again.`)
    },
  })
  if (!may) return null
  return (
    <form
      className="border-t border-base-300 py-4"
      onSubmit={submit((typed) => {
        const given = units.flatMap(([key]) => (typed[key].trim() ? [[key, Number(typed[key])] as const] : []))
        save.mutate(Object.fromEntries(given))
      })}
    >
      <h2>A limit of its own</h2>
      <p className="quiet my-1 text-sm">
        For {task.tag} alone, in place of the usual one. Heavy sweat and sharing still shorten it.
      </p>
      <div className="mt-2 grid grid-cols-3 gap-2">
        {units.map(([key, name]) => (
          <label key={key} className="text-sm">
            {name}
            <input className="input input-sm w-full" type="number" min={0} step="any" {...register(key)} />
          </label>
        ))}
      </div>
      {save.error && (
        <p role="alert" className="mt-2 text-sm text-error">
          {save.wrong.limits ?? save.error?.message}
        </p>
      )}
      <div className="mt-3 flex gap-2">
        <button className="btn btn-primary btn-sm" disabled={save.isPending}>
          Set
        </button>
        {task.own_limit && (
          <button type="button" className="btn btn-sm" onClick={() => save.mutate(undefined)}>
            Follow the usual limit again
          </button>
        )}
      </div>
    </form>
  )
}
