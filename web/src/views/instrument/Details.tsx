import { useWords } from '../../api/words'
import { api, take, type Schemas } from '../../api/client'
import { refresh, useMay, useSettings } from '../../api/queries'
import { useWrite } from '../../api/write'
import { useEntry } from '../../shell/entry'
import { Field } from '../../shell/Field'
import { useNotice } from '../../shell/notice'
import { OtherKind } from './OtherKind'
import { centsOf, readable, typedCents } from '../../words'

type Form = {
  tag: string
  size: string
  body: string
  maker: string
  model: string
  serial: string
  room: string
  slot: string
  acquired_on: string
  price: string
  care_from: string
  notes: string
  ensembles: string[]
  practice_minutes_per_week: number
  practice_days_per_week: number
  vacation_share: number
  players: number
  heavy_sweat: boolean
}

const nobody: Omit<Schemas['Habit'], 'vacation_share'> = {
  ensembles: [],
  practice_minutes_per_week: 0,
  practice_days_per_week: 5,
  players: 1,
  heavy_sweat: false,
}

/** What is known of the instrument and how it is played, to be changed. A refused change keeps what was typed. */
export function Details({ file }: { file: Schemas['File'] }) {
  const { instrument } = file
  const { defaults } = useWords()
  const habit = file.habit ?? { ...nobody, vacation_share: defaults.vacation_share }
  const { data: settings } = useSettings()
  const may = useMay('change instruments')
  const notice = useNotice()
  const {
    register,
    submit,
    formState: { errors },
  } = useEntry<Form>({
    defaultValues: {
      ...instrument,
      acquired_on: instrument.acquired_on ?? '',
      price: typedCents(instrument.price_cents ?? undefined),
      ...habit,
    },
  })
  const save = useWrite({
    send: (f: Form) => {
      const ensembles = [f.ensembles].flat().filter(Boolean)
      const played = ensembles.length > 0 || f.practice_minutes_per_week > 0
      const body: Schemas['Change'] = {
        instrument: {
          ...instrument,
          ...{ tag: f.tag, size: f.size, body: f.body, maker: f.maker, model: f.model, serial: f.serial },
          ...{ room: f.room, slot: f.slot, notes: f.notes, care_from: f.care_from },
          acquired_on: f.acquired_on || null,
          acquired_as: f.acquired_on === instrument.acquired_on ? (instrument.acquired_as ?? '') : '',
          price_cents: centsOf(f.price),
        },
        habit: played
          ? {
              ensembles,
              practice_minutes_per_week: f.practice_minutes_per_week,
              practice_days_per_week: f.practice_days_per_week,
              vacation_share: f.vacation_share,
              players: f.players,
              heavy_sweat: f.heavy_sweat,
              ...(habit.player_id ? { player_id: habit.player_id } : {}),
            }
          : undefined,
      }
      return take(api.PUT('/api/v1/instruments/{id}', { params: { path: { id: instrument.id } }, body }))
    },
    onSuccess: async (result) => {
      notice.show(result.events.length > 0 ? 'Saved.' : 'Nothing had changed.', result.events)
      await refresh()
    },
  })
  const { wrong } = save
  const text = (name: keyof Form & keyof Schemas['Instrument'], label: string, type = 'text') => (
    <Field label={label} error={wrong[`instrument.${name}`]}>
      <input className="input w-full" type={type} {...register(name)} />
    </Field>
  )
  const number = (name: keyof Form, label: string, step: number, most: number) => (
    <Field label={label} error={wrong[`habit.${name}`]}>
      <input
        className="input w-full"
        type="number"
        min={0}
        max={most}
        step={step}
        {...register(name, { valueAsNumber: true })}
      />
    </Field>
  )
  return (
    <>
      <form onSubmit={submit((f) => save.mutate(f))}>
        <fieldset disabled={!may} className="grid gap-x-4 gap-y-3 sm:grid-cols-3">
          {text('tag', 'Tag')}
          {file.sizes.length > 0 && (
            <Field label="Size" error={wrong['instrument.size']}>
              <select className="select w-full" {...register('size')}>
                {['', ...file.sizes].map((s) => (
                  <option key={s}>{s}</option>
                ))}
              </select>
            </Field>
          )}
          <Field label="Body" error={wrong['instrument.body']}>
            <select className="select w-full" {...register('body')}>
              {file.bodies.map((b) => (
                <option key={b.key} value={b.key}>
                  {b.name}
                </option>
              ))}
            </select>
          </Field>
          {text('maker', 'Maker')}
          {text('model', 'Model')}
          {text('serial', 'Serial number')}
          {text('room', 'Room')}
          {text('slot', 'Slot')}
          {text(
            'acquired_on',
            instrument.acquired_as ? `Acquired on (only the ${instrument.acquired_as} is known)` : 'Acquired on',
            'date',
          )}
          <Field label="Price" error={errors.price?.message ?? wrong['instrument.price_cents']}>
            <input className="input w-full" inputMode="decimal" {...register('price', { validate: readable })} />
          </Field>
          {text('care_from', 'Care known since', 'date')}
          <div className="sm:col-span-3">{text('notes', 'Remark; it stands on agreements')}</div>
          <h2 className="mt-2 sm:col-span-3">How it is played</h2>
          <p className="quiet -mt-2 text-sm sm:col-span-3">
            Playing time comes from this and the timetable. A change counts from today; what was played before stays.
          </p>
          <div className="flex flex-wrap gap-x-4 gap-y-1 sm:col-span-3" role="group" aria-label="Ensembles">
            {settings?.ensembles.map((e) => (
              <label key={e.id} className="flex items-center gap-1.5">
                <input type="checkbox" className="checkbox checkbox-sm" value={e.id} {...register('ensembles')} />{' '}
                {e.name}
              </label>
            ))}
          </div>
          {number('practice_minutes_per_week', 'Practice, minutes a week', 1, 10080)}
          {number('practice_days_per_week', 'Practice, days a week', 0.5, 7)}
          {number('vacation_share', 'Share kept up in breaks', 0.05, 1)}
          {number('players', 'Players sharing it', 1, 99)}
          <label className="flex items-center gap-2 self-end pb-2 sm:col-span-2">
            <input type="checkbox" className="checkbox checkbox-sm" {...register('heavy_sweat')} />
            Heavy sweat: it shortens the limits
          </label>
        </fieldset>
        {save.error && (
          <p role="alert" className="mt-3 text-error">
            {save.error.message}
          </p>
        )}
        {may && (
          <button className="btn btn-primary mt-4" disabled={save.isPending}>
            {save.isPending ? 'Saving…' : 'Save'}
          </button>
        )}
      </form>
      {may && <OtherKind file={file} />}
    </>
  )
}
