import { useState } from 'react'
import { useWatch } from 'react-hook-form'
import { api, take, type Schemas } from '../../api/client'
import { refresh, useAddable, useHeader, useNewPlayer, useSettings } from '../../api/queries'
import { useWrite } from '../../api/write'
import { useEntry } from '../../shell/entry'
import { Field } from '../../shell/Field'
import { useNotice } from '../../shell/notice'
import { newID } from '../../api/id'
import { Erasing } from './Erasing'

type Form = Omit<Schemas['Player'], 'measurements' | 'ensembles' | 'left_on'> & {
  ensembles: string[]
  left: boolean
  arm_length_cm: string
  height_cm: string
}

/** What is known of a player. A new measurement is added to the earlier ones; a refused change keeps what was typed. */
export function PlayerForm(props: { player: Schemas['ListedPlayer'] | undefined; onClose: () => void }) {
  const { data: unknown } = useNewPlayer(!props.player)
  const [id] = useState(() => newID())
  const player = props.player ?? (unknown && { ...unknown, id })
  const { data: kinds } = useAddable()
  const { data: settings } = useSettings()
  // A choice is shown as it stands only once all there is to choose from is there.
  if (!player || !kinds || !settings) return null
  return <Filled player={player} kinds={kinds} ensembles={settings.ensembles} onClose={props.onClose} />
}

type FilledProps = {
  player: Schemas['Player'] | Schemas['ListedPlayer']
  kinds: Schemas['Addable'][]
  ensembles: Schemas['Settings']['ensembles']
  onClose: () => void
}

function Filled({ player, kinds, ensembles, onClose }: FilledProps) {
  const { data: header } = useHeader()
  const notice = useNotice()
  const { register, submit, control } = useEntry<Form>({
    defaultValues: { reed_strength: '', ...player, left: Boolean(player.left_on), arm_length_cm: '', height_cm: '' },
  })
  const kind = useWatch({ control, name: 'kind' })
  const strengths = kinds.find((k) => k.key === kind)?.reeds ?? []
  const save = useWrite({
    send: (f: Form) => {
      const today = header?.today ?? ''
      const measured = {
        ...(f.arm_length_cm ? { arm_length_cm: Number(f.arm_length_cm) } : {}),
        ...(f.height_cm ? { height_cm: Number(f.height_cm) } : {}),
      }
      const body: Schemas['Player'] = {
        ...{ id: player.id, version: player.version, external_id: player.external_id },
        ...{ given_name: f.given_name, family_name: f.family_name, grade_year: f.grade_year, kind: f.kind },
        ...{ transport: f.transport, guardian: f.guardian, notes: f.notes, heavy_sweat: f.heavy_sweat },
        ...(f.reed_strength && strengths.includes(f.reed_strength) ? { reed_strength: f.reed_strength } : {}),
        practice_minutes_per_week: f.practice_minutes_per_week,
        practice_days_per_week: f.practice_days_per_week,
        vacation_share: f.vacation_share,
        ensembles: [f.ensembles].flat().filter(Boolean),
        measurements:
          Object.keys(measured).length > 0
            ? [...player.measurements.filter((m) => m.measured_on !== today), { measured_on: today, ...measured }]
            : player.measurements,
        ...(f.left ? { left_on: player.left_on ?? today } : {}),
      }
      return take(api.PUT('/api/v1/players', { body }))
    },
    onSuccess: async () => {
      notice.show('Saved.')
      onClose()
      await refresh()
    },
  })
  const [erasing, setErasing] = useState(false)
  const problem = save.error
  const { wrong } = save
  const text = (name: 'given_name' | 'family_name' | 'grade_year' | 'guardian' | 'notes', label: string) => (
    <Field label={label} error={wrong[name]}>
      <input className="input input-sm w-full" {...register(name)} />
    </Field>
  )
  return (
    <form
      aria-label={player.given_name || 'New player'}
      className="my-2 grid gap-x-4 gap-y-2 bg-base-200 p-4 sm:grid-cols-3"
      onSubmit={submit((f) => save.mutate(f))}
    >
      {text('given_name', 'Given name')}
      {text('family_name', 'Family name')}
      {text('grade_year', 'Year')}
      <Field label="Instrument" error={wrong.kind}>
        <select className="select select-sm w-full" {...register('kind')}>
          <option value="">not known yet</option>
          {kinds.map((k) => (
            <option key={k.key} value={k.key}>
              {k.name}
            </option>
          ))}
        </select>
      </Field>
      <Field label="Practice, minutes a week" error={wrong.practice_minutes_per_week}>
        <input
          className="input input-sm w-full"
          type="number"
          min={0}
          max={10080}
          {...register('practice_minutes_per_week', { valueAsNumber: true })}
        />
      </Field>
      <Field label="It travels by" error={wrong.transport}>
        <select className="select select-sm w-full" {...register('transport')}>
          {['', 'foot', 'bicycle', 'bus', 'car'].map((t) => (
            <option key={t} value={t}>
              {t || 'not known'}
            </option>
          ))}
        </select>
      </Field>
      {strengths.length > 0 && (
        <Field label="Strength of the reeds" error={wrong.reed_strength}>
          <select className="select select-sm w-full" {...register('reed_strength')}>
            {['', ...strengths].map((s) => (
              <option key={s} value={s}>
                {s || 'not known'}
              </option>
            ))}
          </select>
        </Field>
      )}
      <Field label="Arm, neck to mid-palm, cm, measured today" error={wrong['measurements[0].arm_length_cm']}>
        <input className="input input-sm w-full" type="number" step="any" {...register('arm_length_cm')} />
      </Field>
      <Field label="Height, cm, measured today" error={wrong['measurements[0].height_cm']}>
        <input className="input input-sm w-full" type="number" step="any" {...register('height_cm')} />
      </Field>
      {text('guardian', 'To reach a guardian (optional)')}
      <div className="flex flex-wrap gap-x-4 gap-y-1 sm:col-span-3" role="group" aria-label="Ensembles">
        {ensembles.map((e) => (
          <label key={e.id} className="flex items-center gap-1.5">
            <input type="checkbox" className="checkbox checkbox-sm" value={e.id} {...register('ensembles')} /> {e.name}
          </label>
        ))}
        <label className="ml-auto flex items-center gap-1.5">
          <input type="checkbox" className="checkbox checkbox-sm" {...register('left')} /> has left
        </label>
      </div>
      <div className="sm:col-span-3">{text('notes', 'Notes the director needs, and no more')}</div>
      {problem && (
        <p role="alert" className="text-error sm:col-span-3">
          {problem.message}
        </p>
      )}
      <div className="flex gap-2 sm:col-span-3">
        <button className="btn btn-primary btn-sm" disabled={save.isPending}>
          Save
        </button>
        <button type="button" className="btn btn-sm" onClick={onClose}>
          Close
        </button>
        {player.version > 0 && (
          <a className="btn btn-sm" href={`/api/v1/players/${player.id}/data`} download>
            All that is kept
          </a>
        )}
        {player.left_on && (
          <button
            type="button"
            className="btn btn-outline btn-error btn-sm ml-auto"
            aria-expanded={erasing}
            onClick={() => setErasing(!erasing)}
          >
            Erase…
          </button>
        )}
      </div>
      {erasing && 'name' in player && <Erasing player={player} onErased={onClose} />}
    </form>
  )
}
