import { useState } from 'react'
import { Link } from 'react-router'
import { api, take, type Schemas } from '../../api/client'
import { newID } from '../../api/id'
import { refresh, useHeader, useMay, useShop } from '../../api/queries'
import { useWrite } from '../../api/write'
import {} from '../../api/client'
import { useEntry } from '../../shell/entry'
import { Field } from '../../shell/Field'
import { FormEnd } from '../../shell/FormEnd'
import { useNotice } from '../../shell/notice'
import { away, centsOf, count, daysBetween, longDay, money, readable, typedCents } from '../../words'
import { firstWords, useStep } from './useStep'

type Trip = Schemas['PlannedTrip']

/** Drives to the shops: what rides along in which order, and what may come back with them. */
export function Trips() {
  const { data, error } = useShop()
  const may = useMay('change instruments')
  const [planning, setPlanning] = useState(false)
  if (error && !data) return <p role="alert">{error.message}</p>
  if (!data) return <p className="quiet">Looking for the key of the van…</p>
  const trips = data.trips.filter((t) => !t.driven_at)
  return (
    <div className="grid max-w-5xl gap-8">
      {trips.length === 0 && (
        <p>No trip is planned. Jobs that were agreed are put on a trip, until its places are full.</p>
      )}
      {trips.map((t) => (
        <One key={t.id + String(t.version)} trip={t} may={may} />
      ))}
      {may &&
        (planning ? (
          <TripForm onClose={() => setPlanning(false)} />
        ) : (
          <p>
            <button className="btn btn-sm" onClick={() => setPlanning(true)}>
              Plan a trip
            </button>
          </p>
        ))}
    </div>
  )
}

function One({ trip: t, may }: { trip: Trip; may: boolean }) {
  const { data: header } = useHeader()
  const [changing, setChanging] = useState(false)
  const days = header ? daysBetween(header.today, t.on) : 0
  const [without, setWithout] = useState<string[]>([])
  const drive = useStep(
    () =>
      take(
        api.POST('/api/v1/shop/trips/{id}/drive', {
          params: { path: { id: t.id } },
          body: {
            version: t.version,
            loaners: Object.fromEntries(
              t.riders.flatMap((r) => (r.loaner_id && !without.includes(r.job_id) ? [[r.job_id, r.loaner_id]] : [])),
            ),
          },
        }),
      ),
    `${count(t.riders.length, 'instrument')} on the way.`,
  )
  const cancel = useStep(
    () =>
      take(
        api.POST('/api/v1/shop/trips/{id}/cancel', { params: { path: { id: t.id } }, body: { version: t.version } }),
      ),
    'The trip is called off. What was to ride on it is agreed as before.',
  )
  return (
    <section aria-label={longDay(t.on)}>
      <div className="flex flex-wrap items-baseline gap-x-3">
        <h2>{longDay(t.on)}</h2>
        <span className={days < 0 ? 'text-error' : 'quiet'}>
          {days < 0 ? `should have left ${away(days)}` : away(days)}
          {t.driver && `, ${t.driver} drives`}
        </span>
        <span className="text-sm sm:ml-auto">
          {t.taken} of {count(t.places, 'place')} taken
          {t.fixed_cents > 0 && `, the drive ${money(t.fixed_cents)}`}
          {t.cents > 0 && `, repairs ${money(t.cents)}`}
        </span>
      </div>
      <Places taken={t.taken} places={t.places} />
      {t.note && <p className="text-sm italic">{t.note}</p>}
      {t.riders.length === 0 && <p className="quiet">Nothing rides on it yet: put agreed jobs on it, job by job.</p>}
      {t.riders.length > 0 && (
        <>
          <p className="quiet mt-2 text-sm">Loaded in this order; the last is the first out of the van.</p>
          <ol>
            {t.riders.map((r, n) => (
              <li
                key={r.job_id}
                className="line grid grid-cols-[24px_66px_1fr] items-baseline gap-x-3 py-1 sm:grid-cols-[24px_66px_1fr_1fr_70px_1fr]"
              >
                <span className="quiet">{n + 1}</span>
                <Link to={`/shop/jobs/${r.job_id}`} className="font-bold tracking-wide">
                  {r.tag}
                </Link>
                <span>{r.kind_name}</span>
                <span className="quiet col-start-3 text-sm sm:col-start-auto">{r.where}</span>
                <span className="quiet hidden text-sm sm:block">{r.places > 1 && count(r.places, 'place')}</span>
                <span className="col-start-3 text-sm sm:col-start-auto">{r.shop}</span>
                {may && r.loaner && (
                  <label className="col-span-full col-start-3 flex min-h-8 items-center gap-2 text-sm">
                    <input
                      type="checkbox"
                      className="checkbox checkbox-sm"
                      checked={!without.includes(r.job_id)}
                      onChange={(e) =>
                        setWithout(
                          e.currentTarget.checked ? without.filter((id) => id !== r.job_id) : [...without, r.job_id],
                        )
                      }
                    />
                    {r.holder || 'whoever plays it'} has {r.loaner} meanwhile
                  </label>
                )}
              </li>
            ))}
          </ol>
        </>
      )}
      {t.bring.length > 0 && (
        <p className="mt-2 text-sm">
          To bring back:{' '}
          {t.bring.map((b, n) => (
            <span key={b.job_id}>
              {n > 0 && ', '}
              <Link to={`/shop/jobs/${b.job_id}`} className="font-bold">
                {b.tag}
              </Link>{' '}
              from {b.shop}
              {b.ready ? ' (ready)' : ''}
            </span>
          ))}
        </p>
      )}
      {may && (
        <p className="no-print mt-3 flex flex-wrap gap-2">
          {t.riders.length > 0 && (
            <>
              <button
                className={`btn btn-sm ${days <= 0 ? 'btn-primary' : ''}`}
                disabled={drive.busy}
                onClick={() => drive.take()}
              >
                It leaves today
              </button>
              <a className="btn btn-sm" href={`/api/v1/shop/trips/${t.id}/sheet.pdf`} target="_blank" rel="noreferrer">
                Print the sheets
              </a>
            </>
          )}
          <button className="btn btn-sm" aria-expanded={changing} onClick={() => setChanging(!changing)}>
            Change
          </button>
          <button className="btn btn-sm" disabled={cancel.busy} onClick={() => cancel.take()}>
            Call it off
          </button>
        </p>
      )}
      {(drive.error ?? cancel.error) && (
        <p role="alert" className="mt-1 text-sm text-error">
          {firstWords(drive) ?? firstWords(cancel)}
        </p>
      )}
      {changing && <TripForm trip={t} onClose={() => setChanging(false)} />}
    </section>
  )
}

/** The places of the van, taken ones filled. */
function Places({ taken, places }: { taken: number; places: number }) {
  const shown = Math.min(places, 40)
  return (
    <svg viewBox={`0 0 ${String(shown * 14)} 12`} className="my-1 h-3" aria-hidden>
      {Array.from({ length: shown }, (_, n) => (
        <rect
          key={n}
          x={n * 14 + 1}
          y="1"
          width="10"
          height="10"
          rx="2"
          className={n < taken ? 'fill-primary stroke-primary' : 'fill-none stroke-base-300'}
        />
      ))}
    </svg>
  )
}

type Form = { on: string; driver: string; places: string; cost: string; note: string }

function TripForm({ trip, onClose }: { trip?: Trip; onClose: () => void }) {
  const notice = useNotice()
  const [id] = useState(() => trip?.id ?? newID())
  const { register, submit, formState } = useEntry<Form>({
    defaultValues: {
      on: trip?.on ?? '',
      driver: trip?.driver ?? '',
      places: String(trip?.places ?? 8),
      cost: typedCents(trip?.fixed_cents),
      note: trip?.note ?? '',
    },
  })
  const save = useWrite({
    send: (f: Form) =>
      take(
        api.PUT('/api/v1/shop/trips', {
          body: {
            id,
            version: trip?.version ?? 0,
            on: f.on,
            driver: f.driver.trim(),
            places: Number(f.places),
            fixed_cents: centsOf(f.cost) ?? 0,
            note: f.note.trim(),
          },
        }),
      ),
    onSuccess: async () => {
      notice.show('Saved.')
      onClose()
      await refresh()
    },
  })
  const { wrong } = save
  const named = Object.keys(wrong).length > 0
  return (
    <form
      aria-label={trip ? 'Change the trip' : 'Plan a trip'}
      className="mt-2 grid max-w-3xl grid-cols-2 gap-3 sm:grid-cols-4"
      onSubmit={submit((f) => save.mutate(f))}
    >
      <Field label="Day" error={wrong.on}>
        <input className="input input-sm w-full" type="date" required {...register('on')} />
      </Field>
      <Field label="Who drives" error={wrong.driver}>
        <input className="input input-sm w-full" {...register('driver')} />
      </Field>
      <Field label="Places, a violin takes one" error={wrong.places}>
        <input className="input input-sm w-full" type="number" min={1} required {...register('places')} />
      </Field>
      <Field label="The drive costs" error={formState.errors.cost?.message ?? wrong.fixed_cents}>
        <input
          className="input input-sm w-full text-right"
          inputMode="decimal"
          {...register('cost', {
            validate: readable,
          })}
        />
      </Field>
      <div className="col-span-full">
        <Field label="Note" error={wrong.note}>
          <input className="input input-sm w-full" {...register('note')} />
        </Field>
      </div>
      <FormEnd
        error={named ? null : save.error}
        busy={save.isPending}
        name={trip ? 'Save the trip' : 'Plan it'}
        onClose={onClose}
      />
    </form>
  )
}
