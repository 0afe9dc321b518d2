import { api, take, type Schemas } from '../../api/client'
import { useAsSeen } from '../../api/seen'
import { useEntry } from '../../shell/entry'
import { Field } from '../../shell/Field'
import { useSaving } from './saving'

type Vessel = Schemas['Vessel']

/** What mouthpieces soak in, measured once, so that its filling can be worked out. */
export function VesselForm({ vessel, version, may }: { vessel: Vessel | undefined; version: string; may: boolean }) {
  const { register, submit, formState, reset } = useEntry<Vessel>({
    defaultValues: vessel ?? { inner_diameter_mm: 0, cork_height_mm: 0, mouthpiece_volume_ml: 0, at_once: 1 },
  })
  const seen = useAsSeen(version, formState.isDirty)
  const { save, busy, error, wrong } = useSaving((body: Vessel) =>
    take(api.PUT('/api/v1/soak-vessel', { params: { query: { version: seen } }, body })),
  )
  const fields = [
    ['inner_diameter_mm', 'Inner diameter, mm'],
    ['cork_height_mm', 'Lower edge of the cork above the bottom, mm'],
    ['mouthpiece_volume_ml', 'A mouthpiece displaces, mL'],
    ['at_once', 'Mouthpieces at once'],
  ] as const
  return (
    <form
      aria-label="Soak vessel"
      className="mt-6"
      onSubmit={submit((f) =>
        save(f)
          .then(() => reset(f))
          .catch(() => undefined),
      )}
    >
      <h2>Soak vessel</h2>
      <p className="quiet text-sm">Mouthpieces stand in it with the cork up; the level stays 10 mm under the corks.</p>
      <div className="mt-2 grid items-end gap-3 sm:grid-cols-4">
        {fields.map(([key, label]) => (
          <Field key={key} label={label} error={wrong[key]}>
            <input
              className="input input-sm w-full"
              type="number"
              step="any"
              disabled={!may}
              {...register(key, { valueAsNumber: true })}
            />
          </Field>
        ))}
      </div>
      {error && Object.keys(wrong).length === 0 && (
        <p role="alert" className="text-sm text-error">
          {error}
        </p>
      )}
      {may && (
        <button className="btn btn-sm mt-3" disabled={busy}>
          Save the vessel
        </button>
      )}
    </form>
  )
}
