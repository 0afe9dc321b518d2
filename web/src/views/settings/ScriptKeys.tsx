import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useForm } from 'react-hook-form'
import { api, Problem, take, type Schemas } from '../../api/client'
import { refresh, useHeader, useSession } from '../../api/queries'
import { newSecret } from '../../api/secret'
import { useWrite } from '../../api/write'
import { Field } from '../../shell/Field'
import { shortDay } from '../../words'
import { roleNames } from './roles'
import { Shown } from './Shown'

type Form = Pick<Schemas['NewKey'], 'name' | 'role' | 'ends_on'>

/** Keys with which a script signs in as oneself. */
export function ScriptKeys() {
  const { data: session } = useSession()
  const { data: header } = useHeader()
  const { data: keys } = useQuery({ queryKey: ['keys'], queryFn: () => take(api.GET('/api/v1/keys')) })
  const [made, setMade] = useState<string>()
  const { register, handleSubmit, reset } = useForm<Form>({ defaultValues: { name: '', role: 'viewer', ends_on: '' } })
  const add = useWrite({
    send: ({ form, secret }: { form: Form; secret: string }, id) =>
      take(api.POST('/api/v1/keys', { body: { ...form, id: id(), secret } })),
    onSuccess: async (_, { secret }) => {
      setMade(secret)
      reset()
      await refresh()
    },
  })
  const end = useWrite({
    send: (id: string) => take(api.DELETE('/api/v1/keys/{id}', { params: { path: { id } } })),
    onSuccess: refresh,
  })
  const wrong = add.error instanceof Problem ? add.error.fields : {}
  return (
    <section aria-label="Keys for scripts" className="max-w-3xl">
      <h2>Keys for scripts</h2>
      <p className="quiet text-sm">
        A program of your own brings one as <code>Authorization: Bearer …</code> and may do what both the key and you
        may. All that can be asked stands in{' '}
        <a className="link" href="/api/openapi.json">
          the document of the interface
        </a>
        .
      </p>
      <ul className="mt-2">
        {keys?.map((k) => (
          <li key={k.id} className="line flex flex-wrap items-center gap-x-4 py-1.5">
            <b>{k.name}</b>
            <span className="quiet text-sm">
              {k.person}, as {k.role}, until {shortDay(k.ends_on)},{' '}
              {k.last_used_on ? `used on ${shortDay(k.last_used_on)}` : 'never used'}
            </span>
            <button className="because ml-auto" aria-label={`End ${k.name}`} onClick={() => end.mutate(k.id)}>
              end it
            </button>
          </li>
        ))}
      </ul>
      <form
        aria-label="New key"
        className="mt-2 grid items-end gap-2 sm:grid-cols-[1fr_1fr_auto_auto]"
        onSubmit={(e) => void handleSubmit((form) => add.mutate({ form, secret: newSecret() }))(e)}
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
