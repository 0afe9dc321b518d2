import {
  browserSupportsWebAuthn,
  startAuthentication,
  type PublicKeyCredentialRequestOptionsJSON,
} from '@simplewebauthn/browser'
import { useState } from 'react'
import { api, Problem, queryClient, take, type Schemas } from '../../api/client'
import { useWrite } from '../../api/write'
import { Mark } from '../../marks/Mark'
import { useEntry } from '../../shell/entry'
import { whatTheDeviceSaid } from '../settings/Passkeys'

/** Lets a person in. What was typed stays when the server says no or is away. */
export default function SignIn() {
  const { register, submit, getValues } = useEntry<Schemas['SignInBody']>()
  const signIn = useWrite({
    send: (body: Schemas['SignInBody']) => take(api.POST('/api/v1/session', { body })),
    onSuccess: letIn,
  })
  const byPasskey = useWrite({
    send: async () => {
      const { options } = await take(api.POST('/api/v1/session/question'))
      const answer = await startAuthentication({ optionsJSON: options as PublicKeyCredentialRequestOptionsJSON })
      return take(api.POST('/api/v1/session/answer', { body: { answer } }))
    },
    onSuccess: letIn,
  })
  // Once it was asked for, the code stays.
  const [coded, setCoded] = useState(false)
  if (!coded && signIn.error instanceof Problem && signIn.error.fields.code) setCoded(true)
  return (
    <main className="mx-auto grid min-h-dvh max-w-sm content-center gap-6 p-6">
      <div className="flex items-end gap-1">
        <h1 className="text-4xl">Solfeggio</h1>
        <Mark name="player" className="-translate-y-1" />
      </div>
      <p className="quiet">Looks after the school’s instruments while you teach.</p>
      <form className="grid gap-4" onSubmit={submit((body) => signIn.mutate(body))}>
        <label className="grid gap-1">
          E-mail address
          <input className="input w-full" type="email" autoComplete="username" required {...register('email')} />
        </label>
        <label className="grid gap-1">
          Password
          <input
            className="input w-full"
            type="password"
            autoComplete="current-password"
            required
            {...register('password')}
          />
        </label>
        {coded && (
          <label className="grid gap-1">
            Code of your telephone, or from paper
            <input className="input w-full" autoComplete="one-time-code" autoFocus required {...register('code')} />
          </label>
        )}
        {signIn.error && (
          <p role="alert" className="text-error">
            {signIn.error.message}
          </p>
        )}
        <button className="btn btn-primary" disabled={signIn.isPending}>
          {signIn.isPending ? 'Signing in…' : 'Sign in'}
        </button>
      </form>
      <Forgotten email={() => getValues('email')} />
      {browserSupportsWebAuthn() && (
        <div className="grid gap-1">
          <button
            className="because justify-self-start"
            disabled={byPasskey.isPending}
            onClick={() => byPasskey.mutate()}
          >
            {byPasskey.isPending ? 'Look at your device…' : 'sign in with a passkey'}
          </button>
          {byPasskey.error && (
            <p role="alert" className="text-sm text-error">
              {whatTheDeviceSaid(byPasskey.error)}
            </p>
          )}
        </div>
      )}
    </main>
  )
}

/** Who has forgotten their password is sent a link, where mail is set up. */
function Forgotten({ email }: { email: () => string }) {
  const ask = useWrite({
    send: (email: string) => take(api.POST('/api/v1/session/forgotten', { body: { email } })),
  })
  return (
    <div className="grid gap-1">
      <button className="because justify-self-start" disabled={ask.isPending} onClick={() => ask.mutate(email())}>
        forgot your password?
      </button>
      <p role="status" className="text-sm">
        {ask.data &&
          (ask.data.mail
            ? 'If somebody signs in here with that address, a letter with a link is on its way to it.'
            : 'No mail is set up here. A director can give you a link, under Settings, People.')}
        {ask.error && (ask.wrong.email ? 'Type your e-mail address above first.' : ask.error.message)}
      </p>
    </div>
  )
}

function letIn(session: Schemas['Session']) {
  queryClient.removeQueries({ predicate: ({ queryKey }) => queryKey[0] !== 'session' }) // somebody else's, perhaps
  queryClient.setQueryData(['session'], session)
}
