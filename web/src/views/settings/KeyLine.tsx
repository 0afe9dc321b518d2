import { useState } from 'react'
import { api, take, type Schemas } from '../../api/client'
import { refresh } from '../../api/queries'
import { useWrite } from '../../api/write'
import { useEntry } from '../../shell/entry'
import { Field } from '../../shell/Field'
import { fullDay } from '../../words'
import { PasswordAgain } from './PasswordAgain'

/** A key: what it may do, when and from where it was last used, and how it is ended or renewed. */
export function KeyLine({ of: k }: { of: Schemas['ScriptKey'] }) {
  const [renewing, setRenewing] = useState(false)
  const end = useWrite({
    send: (id: string) => take(api.DELETE('/api/v1/keys/{id}', { params: { path: { id } } })),
    onSuccess: refresh,
  })
  return (
    <li className="line py-1.5">
      <div className="flex flex-wrap items-center gap-x-4">
        <b>{k.name}</b>
        <span className="quiet text-sm">
          {k.person}, as {k.role}, until {fullDay(k.ends_on)}, {used(k)}
        </span>
        <span className="ml-auto flex gap-4">
          {k.own && (
            <button className="because" aria-label={`Renew ${k.name}`} onClick={() => setRenewing(!renewing)}>
              renew it
            </button>
          )}
          <button className="because" aria-label={`End ${k.name}`} onClick={() => end.mutate(k.id)}>
            end it
          </button>
        </span>
      </div>
      {end.error && (
        <p role="alert" className="text-sm text-error">
          {end.error.message}
        </p>
      )}
      {renewing && <Renewal of={k} done={() => setRenewing(false)} />}
    </li>
  )
}

/** Where and when a key was last used, in words. */
function used(k: Schemas['ScriptKey']) {
  if (!k.last_used_on) return 'never used'
  return `used on ${fullDay(k.last_used_on)}${k.last_used_from ? ` from ${k.last_used_from}` : ''}`
}

function Renewal({ of: k, done }: { of: Schemas['ScriptKey']; done: () => void }) {
  const { register, submit } = useEntry({ defaultValues: { ends_on: k.ends_on, password: '' } })
  const renew = useWrite({
    send: (body: Schemas['Renewal']) => take(api.PUT('/api/v1/keys/{id}', { body, params: { path: { id: k.id } } })),
    onSuccess: async () => {
      await refresh()
      done()
    },
  })
  const { wrong } = renew
  return (
    <form
      aria-label={`New last day of ${k.name}`}
      className="mt-1 flex flex-wrap items-end gap-2"
      onSubmit={submit((body) => renew.mutate(body))}
    >
      <Field label="New last day" error={wrong.ends_on}>
        <input className="input input-sm" type="date" required {...register('ends_on')} />
      </Field>
      <PasswordAgain error={wrong.password} {...register('password')} />
      <button className="btn btn-outline btn-primary btn-sm" disabled={renew.isPending}>
        Renew
      </button>
      {renew.error && (
        <p role="alert" className="w-full text-sm text-error">
          {renew.error.message}
        </p>
      )}
    </form>
  )
}
