import { useWords } from '../../api/words'
import { useFieldArray } from 'react-hook-form'
import { api, take, type Schemas } from '../../api/client'
import { useEntry } from '../../shell/entry'
import { Field } from '../../shell/Field'
import { weekdays } from '../../words'
import { useSaving } from './saving'
import { newID } from '../../api/id'

type Ensemble = Schemas['Ensemble']

/** Who rehearses when: the larger half of all playing time. */
export function EnsembleSettings({ settings }: { settings: Schemas['Settings'] }) {
  return (
    <div className="grid gap-x-10 gap-y-6 xl:grid-cols-2">
      {settings.ensembles.map((e) => (
        <EnsembleForm key={e.id + String(e.version)} ensemble={e} />
      ))}
      <EnsembleForm key={`new-${String(settings.ensembles.length)}`} />
    </div>
  )
}

/** The ensemble with the share of playing at so many times what it is; people write it in per cent. */
const inPercent = (e: Ensemble, times: number): Ensemble => ({
  ...e,
  rehearsals: e.rehearsals.map((r) => ({ ...r, play_factor: Math.round(1000 * r.play_factor * times) / 1000 })),
})

function EnsembleForm({ ensemble }: { ensemble?: Ensemble }) {
  const { defaults } = useWords()
  const { register, control, submit, formState } = useEntry<Ensemble>({
    defaultValues: ensemble ? inPercent(ensemble, 100) : { id: newID(), name: '', version: 0, rehearsals: [] },
  })
  const times = useFieldArray({ control, name: 'rehearsals', keyName: 'key' })
  const saving = useSaving<Ensemble>(
    (body) => take(api.PUT('/api/v1/settings/ensembles/{id}', { body, params: { path: { id: body.id } } })),
    ({ id, version }) =>
      take(api.DELETE('/api/v1/settings/ensembles/{id}', { params: { path: { id }, query: { version } } })),
  )
  return (
    <form
      aria-label={ensemble ? `ensemble ${ensemble.name}` : 'New ensemble'}
      className="border-t-2 border-base-content pt-2"
      onSubmit={submit((v) => saving.save(inPercent(v, 0.01)).catch(() => undefined))}
    >
      <div className="flex items-end gap-2">
        <div className="flex-1">
          <Field label={ensemble ? 'Ensemble' : 'New ensemble'} error={saving.wrong.name}>
            <input className="input input-sm w-full font-bold" required {...register('name')} />
          </Field>
        </div>
        <button className="btn btn-outline btn-primary btn-sm" disabled={saving.busy || !formState.isDirty}>
          {ensemble ? 'Save' : 'Add'}
        </button>
        {ensemble && (
          <button
            type="button"
            className="btn btn-ghost btn-sm"
            aria-label={`Remove ${ensemble.name}`}
            disabled={saving.busy}
            onClick={() => saving.remove(ensemble)}
          >
            Remove
          </button>
        )}
      </div>
      {times.fields.map((time, n) => (
        <div
          key={time.key}
          className="mt-2 grid grid-cols-[1fr_7rem_5rem_6rem_auto] items-end gap-2 max-sm:grid-cols-2"
        >
          <Field label="Weekday">
            <select
              className="select select-sm w-full"
              {...register(`rehearsals.${n}.weekday`, { valueAsNumber: true })}
            >
              {weekdays.map((name, i) => (
                <option key={name} value={i + 1}>
                  {name}
                </option>
              ))}
            </select>
          </Field>
          <Field label="Begins at" error={saving.wrong[`rehearsals[${String(n)}].starts_at`]}>
            <input className="input input-sm w-full" type="time" required {...register(`rehearsals.${n}.starts_at`)} />
          </Field>
          <Field label="Minutes">
            <input
              className="input input-sm w-full"
              type="number"
              min={1}
              max={1440}
              required
              {...register(`rehearsals.${n}.minutes`, { valueAsNumber: true })}
            />
          </Field>
          <Field label="Of it playing, %">
            <input
              className="input input-sm w-full"
              type="number"
              min={0}
              max={100}
              step={5}
              required
              {...register(`rehearsals.${n}.play_factor`, { valueAsNumber: true })}
            />
          </Field>
          <button
            type="button"
            className="btn btn-ghost btn-sm justify-self-start"
            aria-label={`Take away rehearsal ${String(n + 1)}`}
            onClick={() => times.remove(n)}
          >
            Take away
          </button>
        </div>
      ))}
      {times.fields.length === 0 && (
        <p className="quiet mt-2 text-sm">Without a rehearsal nothing counts as played in it.</p>
      )}
      <button
        type="button"
        className="because mt-2"
        onClick={() =>
          times.append({
            id: newID(),
            weekday: 1,
            starts_at: '',
            minutes: defaults.rehearsal_minutes,
            play_factor: Math.round(100 * defaults.play_factor),
          })
        }
      >
        Add a rehearsal
      </button>
      {saving.error && (
        <p role="alert" className="mt-1 text-sm text-error">
          {saving.error}
        </p>
      )}
    </form>
  )
}
