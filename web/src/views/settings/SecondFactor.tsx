import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { api, queryClient, take, type Schemas } from '../../api/client'
import { refresh } from '../../api/queries'
import { newFactorSecret, newPaperCodes } from '../../api/secret'
import { useWrite } from '../../api/write'
import { useEntry } from '../../shell/entry'
import { Field } from '../../shell/Field'
import { count, nearDay } from '../../words'
import { PasswordAgain } from './PasswordAgain'

/** A code of one's telephone beside the password: how it stands, turning it on, and turning it off. */
export function SecondFactor() {
  const { data: own } = useQuery({
    queryKey: ['second-factor'],
    queryFn: () => take(api.GET('/api/v1/session/second-factor')),
  })
  const [choosing, setChoosing] = useState(false)
  if (!own) return null
  return (
    <section aria-label="A second factor" className="max-w-3xl">
      <h2>A second factor</h2>
      <p className="quiet text-sm">
        Beside the password a code is asked for that your telephone shows and that changes every half minute. A password
        that somebody has learned lets nobody in by itself. {own.asked && 'The school asks for it.'}
      </p>
      {own.on ? (
        <On own={own} />
      ) : choosing || own.asked ? (
        <Choose onDone={() => setChoosing(false)} />
      ) : (
        <button className="btn btn-sm mt-2" onClick={() => setChoosing(true)}>
          Choose one
        </button>
      )}
    </section>
  )
}

function On({ own }: { own: Schemas['SecondFactor'] }) {
  const { register, submit } = useEntry<{ password: string; code: string }>()
  const [asked, setAsked] = useState(false)
  const off = useWrite({
    send: (body: { password: string; code: string }) => take(api.POST('/api/v1/session/second-factor/off', { body })),
    onSuccess: refresh,
  })
  const { wrong } = off
  return (
    <>
      <p className="mt-1">
        On{own.since && ` since ${nearDay(own.since)}`}; {count(own.on_paper, 'code')} left on paper.{' '}
        <button className="because" aria-expanded={asked} onClick={() => setAsked(!asked)}>
          turn it off, or choose another
        </button>
      </p>
      {asked && (
        <form
          aria-label="Turn the second factor off"
          className="mt-2 grid items-end gap-2 sm:grid-cols-[1fr_1fr_auto]"
          onSubmit={submit((f) => off.mutate(f))}
        >
          <PasswordAgain error={wrong.password} {...register('password')} />
          <Field label="Code of the telephone, or from paper" error={wrong.code}>
            <input className="input input-sm w-full" autoComplete="one-time-code" required {...register('code')} />
          </Field>
          <button className="btn btn-sm" disabled={off.isPending}>
            Turn it off
          </button>
        </form>
      )}
      <Otherwise error={off.error} wrong={wrong} />
    </>
  )
}

/** The secrets are made here; the server keeps what it needs to check a code, and of the codes on paper only digests. */
function Choose({ onDone }: { onDone: () => void }) {
  const [secret] = useState(newFactorSecret)
  const [paper] = useState(newPaperCodes)
  const { data: shown, error } = useQuery({
    queryKey: ['second-factor', secret],
    queryFn: () => take(api.POST('/api/v1/session/second-factor/picture', { body: { secret } })),
    staleTime: Infinity,
  })
  const { register, submit } = useEntry<{ password: string; code: string }>()
  const turnOn = useWrite({
    send: (form: { password: string; code: string }) =>
      take(api.POST('/api/v1/session/second-factor', { body: { ...form, secret, paper } })),
    onSuccess: async () => {
      onDone()
      await queryClient.invalidateQueries({ queryKey: ['session'] }) // what it says of the second factor
      await refresh()
    },
  })
  const { wrong } = turnOn
  if (error) return <p role="alert">{error.message}</p>
  return (
    <form aria-label="Choose a second factor" className="mt-3 grid gap-4" onSubmit={submit((f) => turnOn.mutate(f))}>
      <div className="no-print grid gap-4 sm:grid-cols-[auto_1fr]">
        {shown && <img src={shown.picture} width={180} height={180} alt="The secret as a QR code" />}
        <div>
          <h3>1. Your telephone</h3>
          <p className="text-sm">
            Any program for one-time codes reads the picture, or takes the secret by hand: time-based, six digits.
          </p>
          <p className="mt-1 font-mono text-sm break-all">{secret.match(/.{4}/g)?.join(' ')}</p>
        </div>
      </div>
      <div>
        <h3>2. Codes on paper</h3>
        <p className="text-sm">
          Print them, or write them down, and keep them where you keep keys. Each lets you in once when the telephone is
          away. They are not shown again.
        </p>
        <ul className="mt-2 grid grid-cols-1 gap-x-6 font-mono text-sm sm:grid-cols-2">
          {paper.map((code) => (
            <li key={code}>{code}</li>
          ))}
        </ul>
        <button type="button" className="btn btn-sm no-print mt-2" onClick={() => print()}>
          Print this page
        </button>
      </div>
      <div className="no-print">
        <h3>3. Turn it on</h3>
        <div className="mt-1 grid items-end gap-2 sm:grid-cols-[1fr_1fr_auto]">
          <Field label="Code that the telephone shows now" error={wrong.code}>
            <input
              className="input input-sm w-full"
              inputMode="numeric"
              autoComplete="one-time-code"
              required
              {...register('code')}
            />
          </Field>
          <PasswordAgain error={wrong.password} {...register('password')} />
          <button className="btn btn-primary btn-sm" disabled={turnOn.isPending}>
            I have the codes on paper: turn it on
          </button>
        </div>
      </div>
      <Otherwise error={turnOn.error} wrong={wrong} />
    </form>
  )
}

/** What is wrong with no field. */
function Otherwise({ error, wrong }: { error: Error | null; wrong: Record<string, string> }) {
  if (!error || Object.keys(wrong).length > 0) return null
  return (
    <p role="alert" className="text-sm text-error">
      {error.message}
    </p>
  )
}
