import { useState } from 'react'
import { Link } from 'react-router'
import { api, take } from '../../api/client'
import { useWrite } from '../../api/write'
import { useEntry } from '../../shell/entry'
import { NewPasswordField } from '../../shell/NewPasswordField'

/** Chooses a new password by a link. Its secret stands behind the #, which browsers keep to themselves. */
export default function NewPassword() {
  const [secret] = useState(() => location.hash.slice(1))
  const { register, submit } = useEntry({ defaultValues: { password: '' } })
  const choose = useWrite({
    send: ({ password }: { password: string }) =>
      take(api.POST('/api/v1/new-password', { body: { secret, password } })),
  })
  const { wrong } = choose
  return (
    <main className="mx-auto grid min-h-dvh max-w-sm content-center gap-5 p-6">
      <h1>A new password</h1>
      {choose.data ? (
        <p>
          It is kept. You sign in as <b>{choose.data.email}</b>.{' '}
          <Link className="link" to="/" reloadDocument>
            Sign in
          </Link>
        </p>
      ) : (
        <form className="grid gap-4" onSubmit={submit((form) => choose.mutate(form))}>
          <p className="quiet">A few words that do not belong together are easy to keep in mind and hard to guess.</p>
          <NewPasswordField error={wrong.password} {...register('password')} />
          {choose.error && (
            <p role="alert" className="text-error">
              {choose.error.message}
            </p>
          )}
          <button className="btn btn-primary" disabled={choose.isPending}>
            Keep it
          </button>
        </form>
      )}
    </main>
  )
}
