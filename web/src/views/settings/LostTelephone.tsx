import { useState } from 'react'
import { useForm } from 'react-hook-form'
import { api, Problem, take, type Schemas } from '../../api/client'
import { refresh } from '../../api/queries'
import { useWrite } from '../../api/write'

/** Lets somebody in again who has lost their telephone and their codes on paper. */
export function LostTelephone({ person }: { person: Schemas['Colleague'] }) {
  const [asked, setAsked] = useState(false)
  const { register, getValues } = useForm({ defaultValues: { password: '' } })
  const drop = useWrite({
    send: (password: string) =>
      take(
        api.POST('/api/v1/settings/people/{id}/no-second-factor', {
          params: { path: { id: person.id } },
          body: { password },
        }),
      ),
    onSuccess: refresh,
  })
  return (
    <div className="col-span-full text-sm">
      <button
        type="button"
        className="because"
        aria-label={`Lost telephone: ${person.name}`}
        aria-expanded={asked}
        onClick={() => setAsked(!asked)}
      >
        has lost telephone and paper
      </button>
      {asked && (
        <div className="mt-1 flex flex-wrap items-center gap-2">
          <span>Be sure that it is {person.name} who asks. Then only the password counts, until they choose anew.</span>
          <input
            className="input input-sm w-44"
            type="password"
            autoComplete="current-password"
            aria-label="Your own password"
            placeholder="your own password"
            {...register('password')}
          />
          <button
            type="button"
            className="btn btn-sm"
            disabled={drop.isPending}
            onClick={() => drop.mutate(getValues('password'))}
          >
            Take the second factor away
          </button>
          {drop.error && (
            <span role="alert" className="text-error">
              {drop.error instanceof Problem && drop.error.fields.password
                ? `The password ${drop.error.fields.password}.`
                : drop.error.message}
            </span>
          )}
        </div>
      )}
    </div>
  )
}
