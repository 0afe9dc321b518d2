import { useWords } from '../../api/words'
import { useFieldArray, useForm } from 'react-hook-form'
import { api, take, type Schemas } from '../../api/client'
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

function EnsembleForm({ ensemble }: { ensemble?: Ensemble }) {
  const { defaults } = useWords()
  const { register, control, handleSubmit, formState } = useForm<Ensemble>({
    defaultValues: ensemble ?? { id: newID(), name: '', version: 0, rehearsals: [] },
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
      onSubmit={(e) => void handleSubmit((v) => saving.save(v).catch(() => undefined))(e)}
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
          <Field label="Of it playing (0 to 1)">
            <input
              className="input input-sm w-full"
              type="number"
              min={0}
              max={1}
              step={0.05}
              required
              {...register(`rehearsals.${n}.play_factor`, { valueAsNumber: true })}
            />
          </Field>
          <button
            type="button"
            className="btn btn-ghost btn-sm"
            aria-label={`Take away rehearsal ${String(n + 1)}`}
            onClick={() => times.remove(n)}
          >
            Take away
          </button>
        </div>
      ))}
      <button
        type="button"
        className="because mt-2"
        onClick={() =>
          times.append({
            id: newID(),
            weekday: 1,
            starts_at: '',
            minutes: defaults.rehearsal_minutes,
            play_factor: defaults.play_factor,
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
