import { useState } from 'react'
import { api, take, type Schemas } from '../../api/client'
import { refresh, useHeader, useSession } from '../../api/queries'
import { newSecret } from '../../api/secret'
import { useWrite } from '../../api/write'
import { useEntry } from '../../shell/entry'
import { Field } from '../../shell/Field'
import { KeyLine } from './KeyLine'
import { useKeys } from './keys'
import { roleNames } from './roles'
import { Shown } from './Shown'
import { PasswordAgain } from './PasswordAgain'

type Form = Pick<Schemas['NewKey'], 'name' | 'role' | 'ends_on' | 'password'>

/** Keys with which a script signs in as oneself. */
export function ScriptKeys() {
  const { data: session } = useSession()
  const { data: header } = useHeader()
  const { data: keys } = useKeys()
  const [made, setMade] = useState<string>()
  const { register, submit, reset } = useEntry<Form>({
    defaultValues: { name: '', role: 'viewer', ends_on: '', password: '' },
  })
  const add = useWrite({
    send: ({ form, secret }: { form: Form; secret: string }, id) =>
      take(api.POST('/api/v1/keys', { body: { ...form, id: id(), secret } })),
    onSuccess: async (_, { secret }) => {
      setMade(secret)
      reset()
      await refresh()
    },
  })
  const { wrong } = add
  return (
    <section aria-label="Keys for scripts" className="max-w-4xl">
      <h2>Keys for scripts</h2>
      <p className="quiet text-sm">
        A program of your own brings one as <code>Authorization: Bearer …</code> and may do what both the key and you
        may. It can make no keys, links or people and change no password. All that can be asked stands in{' '}
        <a className="link" href="/api/openapi.json">
          the document of the interface
        </a>
        .
      </p>
      <ul className="mt-2">
        {keys?.map((k) => (
          <KeyLine key={k.id} of={k} />
        ))}
      </ul>
      <form
        aria-label="New key"
        className="mt-2 grid items-end gap-2 sm:grid-cols-[1.4fr_1fr_auto_1fr_auto]"
        onSubmit={submit((form) => add.mutate({ form, secret: newSecret() }))}
      >
        <Field label="What it is for" error={wrong.name}>
          <input className="input input-sm w-full" required {...register('name')} />
        </Field>
        <Field label="May do what a" error={wrong.role}>
          <select className="select select-sm w-full" {...register('role')}>
            {roleNames.map(([key, name]) => (
              <option key={key} value={key}>
                {name}
              </option>
            ))}
          </select>
        </Field>
        <Field label="Last day" error={wrong.ends_on}>
          <input className="input input-sm w-full" type="date" min={header?.today} required {...register('ends_on')} />
        </Field>
        <PasswordAgain error={wrong.password} {...register('password')} />
        <button className="btn btn-outline btn-primary btn-sm" disabled={add.isPending || !session}>
          Make a key
        </button>
      </form>
      {add.error && (
        <p role="alert" className="mt-1 text-sm text-error">
          {add.error.message}
        </p>
      )}
      {made && <Shown label="The new key" value={made} note="Whoever has it signs in with it." />}
    </section>
  )
}
