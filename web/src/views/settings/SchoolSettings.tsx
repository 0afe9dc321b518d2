import type { ComponentProps } from 'react'
import { Controller } from 'react-hook-form'
import { api, take, type Schemas } from '../../api/client'
import { refresh } from '../../api/queries'
import { useWrite } from '../../api/write'
import { useEntry } from '../../shell/entry'
import { Field } from '../../shell/Field'
import { useNotice } from '../../shell/notice'
import { centsOf, typedCents } from '../../words'
import { currenciesWith, localesWith, timeZonesWith, type Choice } from './lists'
import { YearDay } from './YearDay'

type Form = Schemas['School'] & { cap: string; hair: string }

const weights = [
  ['weigh_health', 'somebody is hurt or ill'],
  ['weigh_harm', 'the instrument is harmed'],
  ['weigh_playing', 'somebody cannot play'],
  ['weigh_sound', 'sound and tuning suffer'],
  ['weigh_convenience', 'it is less convenient'],
] as const

/** The school itself: how it reads its clocks, and where and when it is. */
export function SchoolSettings({ settings }: { settings: Schemas['Settings'] }) {
  const notice = useNotice()
  const { register, submit, control } = useEntry<Form>({
    defaultValues: {
      ...settings.school,
      cap: typedCents(settings.school.charge_cap_cents),
      hair: typedCents(settings.school.rehair_cents),
    },
  })
  const save = useWrite({
    send: ({ cap, hair, ...school }: Form) => {
      const cents = centsOf(cap)
      const rehair = centsOf(hair)
      const body: Schemas['School'] = { ...school }
      if (rehair === null) delete body.rehair_cents
      else body.rehair_cents = rehair
      if (cents === null) delete body.charge_cap_cents
      else body.charge_cap_cents = cents
      return take(api.PUT('/api/v1/settings/school', { body }))
    },
    onSuccess: async () => {
      notice.show('Saved.')
      await refresh()
    },
  })
  const { wrong } = save
  return (
    <form className="grid max-w-3xl items-end gap-4 sm:grid-cols-2" onSubmit={submit((f) => save.mutate(f))}>
      <div className="sm:col-span-2">
        <Field label="Name of the school" error={wrong.name}>
          <input className="input w-full" required {...register('name')} />
        </Field>
      </div>
      <fieldset className="sm:col-span-2">
        <legend className="font-display text-lg">The players’ own weekly care</legend>
        {(
          [
            ['trusted', 'Trusted', 'It has no clock; the monthly and term checks show how it went.'],
            ['tracked', 'Kept on clocks', 'Mouthpiece washes and the like stand on Today when they are due.'],
          ] as const
        ).map(([key, name, statement]) => (
          <label key={key} className="line flex cursor-pointer items-start gap-3 py-2">
            <input type="radio" className="radio radio-sm mt-0.5" value={key} {...register('player_care')} />
            <span>
              <b>{name}</b> <span className="quiet">{statement}</span>
            </span>
          </label>
        ))}
      </fieldset>
      <Field
        label="Care may be done early once so much of its time is over (0.75 is three quarters)"
        error={wrong.opens_at}
      >
        <input
          className="input w-full"
          type="number"
          min={0}
          max={1}
          step={0.05}
          {...register('opens_at', { valueAsNumber: true })}
        />
      </Field>
      <Field label="It is late once so much is over (1.25 is a quarter more)" error={wrong.late_at}>
        <input
          className="input w-full"
          type="number"
          min={1}
          max={10}
          step={0.05}
          {...register('late_at', { valueAsNumber: true })}
        />
      </Field>
      <fieldset className="sm:col-span-2">
        <legend className="font-display text-lg">What comes first on Today</legend>
        <p className="quiet mb-1 text-sm">
          How much it counts when a task is left undone and … Steps this steep keep a handful of small things from
          pushing out one that matters.
        </p>
        <div className="grid items-end gap-x-4 gap-y-2 sm:grid-cols-5">
          {weights.map(([name, label]) => (
            <Field key={name} label={label} error={wrong[name]}>
              <input
                className="input w-full"
                type="number"
                min={0}
                max={100}
                step="any"
                required
                {...register(name, { valueAsNumber: true })}
              />
            </Field>
          ))}
        </div>
      </fieldset>
      {(
        [
          ['heating_begins', 'The heating season begins on'],
          ['heating_ends', 'It ends on'],
        ] as const
      ).map(([name, label]) => (
        <Controller
          key={name}
          control={control}
          name={name}
          render={({ field }) => (
            <YearDay label={label} value={field.value} onChange={field.onChange} error={wrong[name]} />
          )}
        />
      ))}
      <Field label="Of an avoidable repair the school passes on, in percent" error={wrong.charge_share_pct}>
        <input
          className="input w-full"
          type="number"
          min={0}
          max={100}
          {...register('charge_share_pct', { valueAsNumber: true })}
        />
      </Field>
      <Field label="And at most; empty for no limit" error={wrong.charge_cap_cents}>
        <input className="input w-full" inputMode="decimal" {...register('cap')} />
      </Field>
      <Field label="New hair for a bow costs; empty for a usual price" error={wrong.rehair_cents}>
        <input className="input w-full" inputMode="decimal" {...register('hair')} />
      </Field>
      <Field label="Telephone, for tags and agreements" error={wrong.phone}>
        <input className="input w-full" {...register('phone')} />
      </Field>
      <Field label="Time zone" error={wrong.time_zone}>
        <Choices list={timeZonesWith(settings.school.time_zone)} {...register('time_zone')} />
      </Field>
      <Field label="Dates and numbers as in" error={wrong.locale}>
        <Choices list={localesWith(settings.school.locale)} {...register('locale')} />
      </Field>
      <Field label="Currency" error={wrong.currency}>
        <Choices list={currenciesWith(settings.school.currency)} {...register('currency')} />
      </Field>
      <Field label="Who is asked for a code of their telephone beside the password">
        <select className="select w-full" {...register('second_factor')}>
          <option value="chosen">whoever chooses to</option>
          <option value="directors">all directors</option>
          <option value="everybody">everybody</option>
        </select>
      </Field>
      <Field label="Who comes first to a free instrument">
        <select className="select w-full" {...register('served_first')}>
          <option value="playing">whoever cannot play their own</option>
          <option value="without">players who have none</option>
        </select>
      </Field>
      <div className="sm:col-span-2">
        {save.error && (
          <p role="alert" className="mb-2 text-error">
            {save.error.message}
          </p>
        )}
        <button className="btn btn-primary" disabled={save.isPending}>
          Save
        </button>
      </div>
    </form>
  )
}

function Choices({ list, ...field }: { list: Choice[] } & ComponentProps<'select'>) {
  return (
    <select className="select w-full" required {...field}>
      {list.map((c) => (
        <option key={c.key} value={c.key}>
          {c.name}
        </option>
      ))}
    </select>
  )
}
