import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { api, take, type Schemas } from '../../api/client'
import { useMay, useSession } from '../../api/queries'
import { useWrite } from '../../api/write'
import { useEntry } from '../../shell/entry'
import { Field } from '../../shell/Field'
import { count } from '../../words'
import { useSaving } from './saving'
import { newID } from '../../api/id'
import { newSecret } from '../../api/secret'
import { roleNames } from './roles'
import { OwnPassword } from './OwnPassword'
import { ScriptKeys } from './ScriptKeys'
import { Passkeys } from './Passkeys'
import { SecondFactor } from './SecondFactor'
import { LostTelephone } from './LostTelephone'
import { Reached } from '../../shell/Reached'
import { Shown } from './Shown'
import { SignedIn } from './SignedIn'

type Colleague = Schemas['Colleague']
type Form = Colleague & { password: string }

/** Who signs in and what they may do; and everybody's own password. */
export function PeopleSettings() {
  const may = useMay('change settings')
  const { data: people } = useQuery({
    queryKey: ['people'],
    queryFn: () => take(api.GET('/api/v1/settings/people')),
    enabled: may,
  })
  return (
    <div className="mt-4 grid gap-8">
      {may && (
        <section>
          <h2>People</h2>
          <p className="quiet text-sm">
            Whoever leaves is switched off; what they did keeps their name, and their keys and passkeys end. A new
            password signs them out everywhere and ends their keys too. Who has forgotten the password gets a link that
            leads to a new one, once and for a day.
          </p>
          {people?.map((p) => (
            <PersonLine key={p.id + String(p.version)} person={p} />
          ))}
          {people && <PersonLine key={`new-${String(people.length)}`} />}
        </section>
      )}
      <OwnPassword />
      <SecondFactor />
      <Passkeys />
      <SignedIn />
      <ScriptKeys />
    </div>
  )
}

function PersonLine({ person }: { person?: Colleague }) {
  const { data: session } = useSession()
  const { register, submit, formState } = useEntry<Form>({
    defaultValues: {
      ...(person ?? { id: newID(), name: '', email: '', role: 'helper', active: true, version: 0 }),
      password: '',
    },
  })
  const saving = useSaving<Form>((body) =>
    take(api.PUT('/api/v1/settings/people/{id}', { body, params: { path: { id: body.id } } })),
  )
  const inTable = Boolean(person)
  const own = person?.id === session?.person.id
  return (
    <form
      aria-label={person ? `person ${person.name}` : 'New person'}
      className="line grid grid-cols-2 items-end gap-2 py-1.5 lg:grid-cols-[1fr_1.3fr_14rem_11rem_7rem_5rem]"
      onSubmit={submit((p) => saving.save(p).catch(() => undefined))}
    >
      <Field label={person ? 'Name' : 'New person'} inTable={inTable} error={saving.wrong.name}>
        <input className="input input-sm w-full" required {...register('name')} />
      </Field>
      <Field label="E-mail address" inTable={inTable} error={saving.wrong.email}>
        <input className="input input-sm w-full" type="email" required {...register('email')} />
      </Field>
      <Field label="Role" inTable={inTable} error={saving.wrong.role}>
        <select className="select select-sm w-full" {...register('role')}>
          {roleNames.map(([key, name]) => (
            <option key={key} value={key}>
              {name}
            </option>
          ))}
        </select>
      </Field>
      <Field label={person ? 'New password' : 'Password'} inTable={inTable} error={saving.wrong.password}>
        <input
          className="input input-sm w-full"
          type="password"
          autoComplete="new-password"
          placeholder={own ? 'changed below' : person ? 'unchanged' : ''}
          required={!person}
          readOnly={own}
          {...register('password')}
        />
      </Field>
      <label className="flex h-8 items-center gap-1.5 text-sm">
        <input type="checkbox" className="checkbox checkbox-xs" {...register('active')} /> may sign in
      </label>
      <button className="btn btn-outline btn-primary btn-sm" disabled={saving.busy || (inTable && !formState.isDirty)}>
        {person ? 'Save' : 'Add'}
      </button>
      {person && !own && person.active && <NewPasswordLink person={person} />}
      {person && !own && person.second_factor && <LostTelephone person={person} />}
      {Boolean(person?.tries) && (
        <p className="col-span-full text-sm text-warning">
          {count(person?.tries ?? 0, 'wrong try', 'wrong tries')} at the password within a quarter of an hour.
        </p>
      )}
      {own && <p className="quiet col-span-full text-xs">This is you. Your own role is changed by another director.</p>}
      {saving.error && (
        <p role="alert" className="col-span-full text-sm text-error">
          {saving.error}
        </p>
      )}
    </form>
  )
}

function NewPasswordLink({ person }: { person: Colleague }) {
  const [path, setPath] = useState<string>()
  const link = useWrite({
    send: (secret: string) =>
      take(api.PUT('/api/v1/settings/people/{id}/link', { params: { path: { id: person.id } }, body: { secret } })),
    onSuccess: (_, secret) => setPath(`/new-password#${secret}`),
  })
  return (
    <div className="col-span-full text-sm">
      <button
        type="button"
        className="because"
        aria-label={`Link for a new password: ${person.name}`}
        disabled={link.isPending}
        onClick={() => link.mutate(newSecret())}
      >
        link for a new password
      </button>
      {link.error && (
        <span role="alert" className="ml-3 text-error">
          {link.error.message}
        </span>
      )}
      {path && (
        <Reached>
          {(at) => (
            <Shown label={`Link for ${person.name}`} value={at + path} note={whatToDo(person.name, link.data)} />
          )}
        </Reached>
      )}
    </div>
  )
}

/** Where mail is set up the link goes by itself; else it is given by hand. */
function whatToDo(name: string, link: Schemas['PasswordLink'] | undefined) {
  if (link?.sent_to) return `It was sent to ${link.sent_to} as well. Nobody else should get it; an earlier one ends.`
  const lost = link?.not_sent ? 'The mail server did not take the letter. ' : ''
  return `${lost}Give it to ${name} and nobody else; an earlier one ends.`
}
