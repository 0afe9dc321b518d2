import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { api, take } from '../../api/client'
import { Field } from '../../shell/Field'
import { Reason } from '../../shell/why'
import { centsOf, money, typedCents } from '../../words'

/** What a person decides on a charge, as it is typed. */
export type Charging = { asked: boolean; repair: string; amount: string; reason: string }

export const noCharge: Charging = { asked: false, repair: '', amount: '', reason: '' }

type Props = {
  id: string
  charge: Charging
  avoidable: boolean
  errors: Record<string, string>
  onChange: (charge: Charging) => void
}

/** A charge is proposed with its reasons; a person takes it over, changes it, or lets it be. */
export function ChargeForm({ id, charge, avoidable, errors, onChange }: Props) {
  const [why, setWhy] = useState(false)
  const repair = centsOf(charge.repair)
  const { data: proposal, error } = useQuery({
    queryKey: ['charge', id, repair],
    queryFn: () =>
      take(
        api.POST('/api/v1/instruments/{id}/charge', {
          params: { path: { id } },
          body: { repair_cents: repair ?? 0, avoidable: true },
        }),
      ),
    enabled: charge.asked && repair !== null && repair >= 0,
  })
  if (!charge.asked)
    return (
      <p className="mt-4">
        <span className="quiet text-sm">
          {avoidable ? 'Some of it could have been avoided. ' : 'Wear is the school’s own. '}
        </span>
        <button className="because" onClick={() => onChange({ ...charge, asked: true })}>
          ask for a part of the repair
        </button>
      </p>
    )
  return (
    <fieldset className="mt-4 bg-base-200 p-3">
      <legend className="sr-only">Charge</legend>
      <div className="grid gap-3 sm:grid-cols-2">
        <Field label="What the repair costs" error={errors['charge.repair_cents'] ?? error?.message}>
          <input
            className="input input-sm w-full"
            inputMode="decimal"
            value={charge.repair}
            onChange={(e) => onChange({ ...charge, repair: e.currentTarget.value })}
          />
        </Field>
        <Field label="What is asked for" error={errors['charge.amount_cents']}>
          <input
            className="input input-sm w-full"
            inputMode="decimal"
            value={charge.amount}
            onChange={(e) => onChange({ ...charge, amount: e.currentTarget.value })}
          />
        </Field>
        <div className="sm:col-span-2">
          <Field label="For what; it stands in the notice" error={errors['charge.reason'] ?? errors.charge}>
            <input
              className="input input-sm w-full"
              maxLength={500}
              value={charge.reason}
              onChange={(e) => onChange({ ...charge, reason: e.currentTarget.value })}
            />
          </Field>
        </div>
      </div>
      {proposal && (
        <p className="mt-2">
          Proposed: <b>{money(proposal.charge_cents)}</b>{' '}
          <button
            className="because"
            onClick={() => onChange({ ...charge, amount: typedCents(proposal.charge_cents) })}
          >
            take it over
          </button>{' '}
          <button className="because" aria-expanded={why} onClick={() => setWhy(!why)}>
            why
          </button>
        </p>
      )}
      {proposal && why && <Reason reason={proposal.why} />}
      <p className="quiet mt-2 text-sm">
        You decide.{' '}
        <button className="because" onClick={() => onChange(noCharge)}>
          ask for nothing
        </button>
      </p>
    </fieldset>
  )
}
