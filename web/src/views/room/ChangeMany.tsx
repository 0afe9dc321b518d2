import { api, take, type Schemas } from '../../api/client'
import { refresh, useSettings } from '../../api/queries'
import { useWrite } from '../../api/write'
import { useEntry } from '../../shell/entry'
import { Field } from '../../shell/Field'
import { useNotice } from '../../shell/notice'
import { centsOf, count, readable } from '../../words'

type Form = Record<'join' | 'leave' | 'maker' | 'model' | 'room' | 'acquired_on' | 'price', string>

/** One change of all that are selected; what is left empty stays as it is with each. */
export function ChangeMany({ instruments, onDone }: { instruments: Schemas['Listed'][]; onDone: () => void }) {
  const { data: settings } = useSettings()
  const notice = useNotice()
  const { register, submit, formState } = useEntry<Form>({
    defaultValues: { join: '', leave: '', maker: '', model: '', room: '', acquired_on: '', price: '' },
  })
  const change = useWrite({
    send: ({ join, leave, price, ...texts }: Form) =>
      take(
        api.PATCH('/api/v1/instruments', {
          body: {
            instruments: instruments.map((i) => i.id),
            ...Object.fromEntries(Object.entries(texts).filter(([, text]) => text !== '')),
            ...(join ? { join: [join] } : {}),
            ...(leave ? { leave: [leave] } : {}),
            ...(price ? { price_cents: centsOf(price) ?? 0 } : {}),
          },
        }),
      ),
    onSuccess: async ({ events }) => {
      notice.show(
        events.length > 0 ? `${count(instruments.length, 'instrument')} changed.` : 'Nothing had changed.',
        events,
      )
      onDone()
      await refresh()
    },
  })
  const ensemble = (label: string, name: 'join' | 'leave') => (
    <Field label={label}>
      <select className="select select-sm w-full" {...register(name)}>
        <option value="">as it is</option>
        {settings?.ensembles.map((e) => (
          <option key={e.id} value={e.id}>
            {e.name}
          </option>
        ))}
      </select>
    </Field>
  )
  const text = (label: string, name: 'maker' | 'model' | 'room') => (
    <Field label={label}>
      <input className="input input-sm w-full" placeholder="as it is" maxLength={80} {...register(name)} />
    </Field>
  )
  return (
    <form aria-label="Change those selected" className="mt-2" onSubmit={submit((v) => change.mutate(v))}>
      <div className="grid max-w-5xl grid-cols-2 gap-2 md:grid-cols-4 xl:grid-cols-7">
        {ensemble('Played in', 'join')}
        {ensemble('No more in', 'leave')}
        {text('Room', 'room')}
        {text('Maker', 'maker')}
        {text('Model', 'model')}
        <Field label="Bought on">
          <input className="input input-sm w-full" type="date" {...register('acquired_on')} />
        </Field>
        <Field label="Price of each" error={formState.errors.price?.message}>
          <input
            className="input input-sm w-full"
            inputMode="decimal"
            placeholder="as it is"
            {...register('price', { validate: (text) => !text || readable(text) })}
          />
        </Field>
      </div>
      <button className="btn btn-primary btn-sm mt-2" disabled={change.isPending || !formState.isDirty}>
        Change {count(instruments.length, 'instrument')}
      </button>
      {change.error && (
        <p role="alert" className="mt-1 text-sm text-error">
          {change.error.message}
        </p>
      )}
    </form>
  )
}
