import { useWords } from '../../api/words'
import { api, take, type Schemas } from '../../api/client'
import { useEntry } from '../../shell/entry'
import { Field } from '../../shell/Field'
import { useSaving } from './saving'
import { SharedCalendar } from './SharedCalendar'
import { newID } from '../../api/id'

type Period = Schemas['Period']

/** Terms and breaks say when there are rehearsals; concerts count as playing and are what everything runs toward. */
export function CalendarSettings({ settings }: { settings: Schemas['Settings'] }) {
  return (
    <div className="grid gap-8 xl:grid-cols-2">
      <section>
        <h2>Terms</h2>
        <p className="quiet text-sm">Days between two terms are without rehearsals.</p>
        {settings.terms.map((t) => (
          <PeriodLine key={t.id + String(t.version)} period={t} kind="terms" what="term" />
        ))}
        <PeriodLine key={`new-term-${String(settings.terms.length)}`} kind="terms" what="term" />
        <h2 className="mt-6">Breaks</h2>
        <p className="quiet text-sm">Holidays and single days off inside a term.</p>
        {settings.breaks.map((b) => (
          <PeriodLine key={b.id + String(b.version)} period={b} kind="breaks" what="break" />
        ))}
        <PeriodLine key={`new-break-${String(settings.breaks.length)}`} kind="breaks" what="break" />
      </section>
      <section>
        <h2>Concerts</h2>
        <p className="quiet text-sm">They count as playing for the instruments of their ensembles.</p>
        {settings.concerts.map((c) => (
          <ConcertLine key={c.id + String(c.version)} concert={c} ensembles={settings.ensembles} />
        ))}
        <ConcertLine key={`new-${String(settings.concerts.length)}`} ensembles={settings.ensembles} />
        <SharedCalendar />
      </section>
    </div>
  )
}

function PeriodLine({ period, kind, what }: { period?: Period; kind: 'terms' | 'breaks'; what: string }) {
  const { register, submit, formState } = useEntry<Period>({
    defaultValues: period ?? { id: newID(), name: '', starts_on: '', ends_on: '', version: 0 },
  })
  const path = `/api/v1/settings/${kind}/{id}` as const
  const saving = useSaving<Period>(
    (body) => take(api.PUT(path, { body, params: { path: { id: body.id } } })),
    ({ id, version }) => take(api.DELETE(path, { params: { path: { id }, query: { version } } })),
  )
  return (
    <form
      aria-label={period ? `${what} ${period.name}` : `New ${what}`}
      className="line grid grid-cols-2 items-end gap-2 py-1.5 sm:grid-cols-[1fr_8.6rem_8.6rem_5rem]"
      onSubmit={submit((p) => saving.save(p).catch(() => undefined))}
    >
      <div className="col-span-2 sm:col-span-1">
        <Field label={period ? 'Name' : `New ${what}`} inTable={Boolean(period)} error={saving.wrong.name}>
          <input className="input input-sm w-full" required {...register('name')} />
        </Field>
      </div>
      <Field label="First day" inTable={Boolean(period)} error={saving.wrong.starts_on}>
        <input className="input input-sm w-full" type="date" required {...register('starts_on')} />
      </Field>
      <Field label="Last day" inTable={Boolean(period)} error={saving.wrong.ends_on}>
        <input className="input input-sm w-full" type="date" required {...register('ends_on')} />
      </Field>
      <Buttons
        fresh={!period}
        changed={formState.isDirty}
        busy={saving.busy}
        onRemove={() => period && saving.remove(period)}
        name={period?.name ?? what}
      />
      {saving.error && (
        <p role="alert" className="col-span-full text-sm text-error">
          {saving.error}
        </p>
      )}
    </form>
  )
}

function ConcertLine({ concert, ensembles }: { concert?: Schemas['Concert']; ensembles: Schemas['Ensemble'][] }) {
  const { defaults } = useWords()
  const { register, submit, formState } = useEntry<Schemas['Concert']>({
    defaultValues: concert ?? {
      ...{
        id: newID(),
        name: '',
        held_on: '',
        minutes: defaults.concert_minutes,
        play_factor: defaults.play_factor,
        version: 0,
      },
      ensembles: [],
    },
  })
  const saving = useSaving<Schemas['Concert']>(
    (body) =>
      take(
        api.PUT('/api/v1/settings/concerts/{id}', {
          body: { ...body, ensembles: [body.ensembles].flat().filter(Boolean) },
          params: { path: { id: body.id } },
        }),
      ),
    ({ id, version }) =>
      take(api.DELETE('/api/v1/settings/concerts/{id}', { params: { path: { id }, query: { version } } })),
  )
  return (
    <form
      aria-label={concert ? `concert ${concert.name}` : 'New concert'}
      className="line grid grid-cols-2 items-end gap-2 py-1.5 sm:grid-cols-[1fr_8.6rem_4.5rem_5rem]"
      onSubmit={submit((c) => saving.save(c).catch(() => undefined))}
    >
      <div className="col-span-2 sm:col-span-1">
        <Field label={concert ? 'Name' : 'New concert'} inTable={Boolean(concert)} error={saving.wrong.name}>
          <input className="input input-sm w-full" required {...register('name')} />
        </Field>
      </div>
      <Field label="Day" inTable={Boolean(concert)} error={saving.wrong.held_on}>
        <input className="input input-sm w-full" type="date" required {...register('held_on')} />
      </Field>
      <Field label="Minutes" inTable={Boolean(concert)} error={saving.wrong.minutes}>
        <input
          className="input input-sm w-full"
          type="number"
          min={1}
          max={1440}
          required
          {...register('minutes', { valueAsNumber: true })}
        />
      </Field>
      <Buttons
        fresh={!concert}
        changed={formState.isDirty}
        busy={saving.busy}
        onRemove={() => concert && saving.remove(concert)}
        name={concert?.name ?? 'concert'}
      />
      <div className="col-span-full flex flex-wrap gap-x-4 text-sm" role="group" aria-label="Ensembles">
        {ensembles.map((e) => (
          <label key={e.id} className="flex items-center gap-1.5">
            <input type="checkbox" className="checkbox checkbox-xs" value={e.id} {...register('ensembles')} /> {e.name}
          </label>
        ))}
      </div>
      {saving.error && (
        <p role="alert" className="col-span-full text-sm text-error">
          {saving.error}
        </p>
      )}
    </form>
  )
}

function Buttons(props: { fresh: boolean; changed: boolean; busy: boolean; onRemove: () => void; name: string }) {
  if (props.fresh)
    return (
      <button className="btn btn-outline btn-primary btn-sm" disabled={props.busy}>
        Add
      </button>
    )
  if (props.changed)
    return (
      <button className="btn btn-primary btn-sm" disabled={props.busy}>
        Save
      </button>
    )
  return (
    <button
      type="button"
      className="btn btn-ghost btn-sm"
      aria-label={`Remove ${props.name}`}
      disabled={props.busy}
      onClick={props.onRemove}
    >
      Remove
    </button>
  )
}
