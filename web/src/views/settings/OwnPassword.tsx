import { api, take } from '../../api/client'
import { refresh } from '../../api/queries'
import { useWrite } from '../../api/write'
import { useEntry } from '../../shell/entry'
import { Field } from '../../shell/Field'
import { NewPasswordField } from '../../shell/NewPasswordField'
import { useNotice } from '../../shell/notice'
import { useKeys, usePasskeys } from './keys'

type Form = { old: string; password: string; keep: Record<string, boolean> }

/** A new password of one's own, and which keys and passkeys outlast the old one. */
export function OwnPassword() {
  const notice = useNotice()
  const { data: keys } = useKeys()
  const { data: passkeys } = usePasskeys()
  const mine = [...(keys?.filter((k) => k.own) ?? []), ...(passkeys ?? [])]
  const { register, submit, reset } = useEntry<Form>({ defaultValues: { old: '', password: '', keep: {} } })
  const change = useWrite({
    send: ({ keep, ...passwords }: Form) =>
      take(
        api.PUT('/api/v1/session/password', {
          body: { ...passwords, keep_keys: mine.filter((k) => keep[k.id]).map((k) => k.id) },
        }),
      ),
    onSuccess: async () => {
      reset()
      notice.show('Your password is changed. You are signed out everywhere else.')
      await refresh()
    },
  })
  const { wrong } = change
  return (
    <form aria-label="Your own password" className="grid max-w-sm gap-3" onSubmit={submit((f) => change.mutate(f))}>
      <h2>Your own password</h2>
      <Field label="Present password" error={wrong.old}>
        <input className="input w-full" type="password" autoComplete="current-password" required {...register('old')} />
      </Field>
      <NewPasswordField error={wrong.password} {...register('password')} />
      {mine.length > 0 && (
        <fieldset>
          <legend className="text-sm">
            Your keys for scripts and your passkeys end with the old password. Tick those that stay:
          </legend>
          {mine.map((k) => (
            <label key={k.id} className="flex min-h-8 items-center gap-2 text-sm">
              <input type="checkbox" className="checkbox checkbox-xs" {...register(`keep.${k.id}`)} />
              {k.name}
            </label>
          ))}
        </fieldset>
      )}
      {change.error && (
        <p role="alert" className="text-error">
          {change.error.message}
        </p>
      )}
      <button className="btn btn-primary justify-self-start" disabled={change.isPending}>
        Change it
      </button>
    </form>
  )
}
