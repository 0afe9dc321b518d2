import { startRegistration, type PublicKeyCredentialCreationOptionsJSON } from '@simplewebauthn/browser'
import { useRef, useState } from 'react'
import { api, Problem, queryClient, take, type Schemas } from '../../api/client'
import { refresh } from '../../api/queries'
import { useWrite } from '../../api/write'
import { useEntry } from '../../shell/entry'
import { Field } from '../../shell/Field'
import { nearDay } from '../../words'
import { usePasskeys } from './keys'
import { PasswordAgain } from './PasswordAgain'

type Form = { name: string; password: string }

/** One's own passkeys: a device signs in by its finger, face or code, at this address only. */
export function Passkeys() {
  const { data: own } = usePasskeys()
  const { register, submit, reset } = useEntry<Form>()
  const made = useRef<Schemas['NewPasskey']['answer']>(undefined) // kept until the server has said that it has it
  const add = useWrite({
    send: async (form: Form, id) => {
      if (!made.current) {
        const { options } = await take(api.POST('/api/v1/session/passkeys/question'))
        made.current = await startRegistration({ optionsJSON: options as PublicKeyCredentialCreationOptionsJSON })
      }
      await take(api.POST('/api/v1/session/passkeys', { body: { ...form, id: id(), answer: made.current } }))
    },
    onSuccess: async () => {
      made.current = undefined
      reset()
      await queryClient.invalidateQueries({ queryKey: ['session'] }) // what it says of the second factor
      await refresh()
    },
    onError: (error) => {
      if (error instanceof Problem && !error.fields.password && !error.passing) made.current = undefined
    },
  })
  if (!own) return null
  const { wrong } = add
  return (
    <section aria-label="Passkeys" className="max-w-4xl">
      <h2>Passkeys</h2>
      <p className="quiet text-sm">
        A telephone, a computer or a small key signs you in by your finger, your face or its own code, without a
        password, and only at this address: a false page gets nothing. Your password goes on working beside it, unless
        the school asks for more than a password.
      </p>
      <ul className="mt-1">
        {own.map((k) => (
          <Own key={k.id} of={k} />
        ))}
      </ul>
      <form
        aria-label="New passkey"
        className="mt-2 grid items-end gap-2 sm:grid-cols-[1.4fr_1fr_auto]"
        onSubmit={submit((f) => add.mutate(f))}
      >
        <Field label="What you call the device" error={wrong.name}>
          <input className="input input-sm w-full" required maxLength={100} {...register('name')} />
        </Field>
        <PasswordAgain error={wrong.password} {...register('password')} />
        <button className="btn btn-outline btn-primary btn-sm" disabled={add.isPending}>
          {add.isPending ? 'Look at the device…' : 'Make a passkey'}
        </button>
      </form>
      {add.error && !wrong.password && (
        <p role="alert" className="mt-1 text-sm text-error">
          {whatTheDeviceSaid(add.error)}
        </p>
      )}
    </section>
  )
}

function Own({ of: k }: { of: Schemas['Passkey'] }) {
  const [asked, setAsked] = useState(false)
  const { register, submit } = useEntry({ defaultValues: { password: '' } })
  const drop = useWrite({
    send: (body: { password: string }) =>
      take(api.POST('/api/v1/session/passkeys/{id}/away', { params: { path: { id: k.id } }, body })),
    onSuccess: refresh,
  })
  return (
    <li className="line flex flex-wrap items-center gap-x-4 py-1.5">
      <b>{k.name}</b>
      <span className="quiet text-sm">
        since {nearDay(k.added_on)}, {k.used_on ? `used ${nearDay(k.used_on)}` : 'never used'}
      </span>
      <button
        className="because ml-auto"
        aria-label={`Take ${k.name} away`}
        aria-expanded={asked}
        onClick={() => setAsked(!asked)}
      >
        take it away
      </button>
      {asked && (
        <form className="flex w-full flex-wrap items-center gap-2 pt-1" onSubmit={submit((f) => drop.mutate(f))}>
          <input
            className="input input-sm w-44"
            type="password"
            autoComplete="current-password"
            aria-label="Your own password"
            placeholder="your own password"
            required
            {...register('password')}
          />
          <button className="btn btn-sm" disabled={drop.isPending}>
            Take it away
          </button>
          {drop.error && (
            <span role="alert" className="text-sm text-error">
              {drop.error.message}
            </span>
          )}
        </form>
      )}
    </li>
  )
}

/** Browsers name what went wrong between them and a device; people get a sentence. */
export function whatTheDeviceSaid(error: Error) {
  if (error instanceof Problem) return error.message
  if (error.name === 'InvalidStateError') return 'This device has a passkey of yours already.'
  return 'The device gave no answer: it was called off, took too long, or has no passkeys. Nothing was changed.'
}
