import { useWatch } from 'react-hook-form'
import { Link } from 'react-router'
import { api, take } from '../../api/client'
import { refresh, useAddable, useMay, useWalls } from '../../api/queries'
import { useWrite } from '../../api/write'
import { useEntry } from '../../shell/entry'
import { Field } from '../../shell/Field'
import { KindPicker } from '../../shell/KindPicker'
import { useNotice } from '../../shell/notice'
import { centsOf, readable } from '../../words'

type Form = Record<
  'kind' | 'tag' | 'size' | 'body' | 'maker' | 'model' | 'serial' | 'room' | 'slot' | 'acquired_on' | 'price',
  string
>

const empty: Form = {
  ...{ kind: '', tag: '', size: '', body: '', maker: '', model: '', serial: '' },
  ...{ room: '', slot: '', acquired_on: '', price: '' },
}

/** One instrument that comes to the school. The form stays for the next of the same kind. */
export default function Add() {
  const { data: kinds, error } = useAddable()
  const { data: walls } = useWalls()
  const may = useMay('change instruments')
  const notice = useNotice()
  const { register, submit, control, setValue, setFocus, reset, formState } = useEntry<Form>({
    defaultValues: empty,
  })
  const chosen = useWatch({ control, name: 'kind' })
  register('kind', { required: 'Say what it is.' })
  const kind = kinds?.find((k) => k.key === chosen || (chosen.includes('~') && k.key === chosen.split('~')[0]))
  const add = useWrite({
    send: (f: Form, id) => {
      const { kind, tag, size, body, maker, model, serial, room, slot } = f
      const price = centsOf(f.price)
      return take(
        api.POST('/api/v1/instruments', {
          body: {
            ...{ id: id(), kind, tag, size, body, maker, model, serial, room, slot },
            ...(f.acquired_on ? { acquired_on: f.acquired_on } : {}),
            ...(price === null ? {} : { price_cents: price }),
          },
        }),
      )
    },
    onSuccess: async ({ events }, f) => {
      notice.show(`${f.tag.trim().toUpperCase()} is one of the school’s instruments now.`, events)
      await refresh()
      reset({ ...f, tag: '', serial: '', slot: '' })
      setFocus('tag')
    },
  })
  if (error && !kinds) return <p role="alert">{error.message}</p>
  if (!kinds) return <p className="quiet">Looking through the catalogue…</p>
  if (!may) return <p>Only a director or an assistant adds instruments.</p>
  const { wrong } = add
  const text = (name: keyof Form, label: string, more: { list?: string; placeholder?: string | undefined } = {}) => (
    <Field label={label} error={wrong[`instrument.${name}`]}>
      <input className="input w-full" autoComplete="off" {...more} {...register(name)} />
    </Field>
  )
  return (
    <section className="max-w-3xl">
      <h1>Add an instrument</h1>
      <p className="quiet mt-1">
        Many at once come from{' '}
        <Link className="link" to="/settings/instruments">
          a file
        </Link>
        . What you do not know now can be filled in later, in its file under Details.
      </p>
      <form
        aria-label="Add an instrument"
        className="mt-4 grid gap-x-4 gap-y-3 sm:grid-cols-3"
        onSubmit={submit((f) => add.mutate(f))}
      >
        <KindPicker
          label="What it is"
          value={chosen}
          error={wrong['instrument.kind'] ?? formState.errors.kind?.message}
          onChange={(key) => {
            setValue('kind', key, { shouldValidate: formState.isSubmitted })
            setValue('size', '')
            setValue('body', '')
          }}
        />
        <Field label="Tag" error={wrong['instrument.tag'] ?? formState.errors.tag?.message}>
          <span className="flex gap-2">
            <input
              className="input w-full uppercase"
              autoComplete="off"
              {...register('tag', { required: 'Give it a tag, such as VN-01.' })}
            />
            {kind?.next_tag && kind.key === chosen && (
              <button
                type="button"
                className="btn"
                aria-label={`Use the next tag, ${kind.next_tag}`}
                onClick={() => setValue('tag', kind.next_tag)}
              >
                {kind.next_tag}
              </button>
            )}
          </span>
        </Field>
        {kind && kind.sizes.length > 0 ? (
          <Field label="Size" error={wrong['instrument.size']}>
            <select className="select w-full" {...register('size')}>
              {['', ...kind.sizes].map((s) => (
                <option key={s}>{s}</option>
              ))}
            </select>
          </Field>
        ) : (
          <span className="hidden sm:block" />
        )}
        {kind && kind.bodies.length > 1 && (
          <Field label="Body" error={wrong['instrument.body']}>
            <select className="select w-full" {...register('body')}>
              {kind.bodies.map((b, n) => (
                <option key={b.key} value={n === 0 ? '' : b.key}>
                  {b.name}
                </option>
              ))}
            </select>
          </Field>
        )}
        {text('maker', 'Maker')}
        {text('model', 'Model')}
        {text('serial', 'Serial number')}
        {text('room', 'Room', { list: 'rooms' })}
        <datalist id="rooms">
          {walls
            ?.filter((w) => w.room)
            .map((w) => (
              <option key={w.room} value={w.room} />
            ))}
        </datalist>
        {text('slot', 'Slot')}
        <Field label="Came on" error={wrong['instrument.acquired_on']}>
          <input className="input w-full" type="date" {...register('acquired_on')} />
        </Field>
        <Field label="Price" error={formState.errors.price?.message ?? wrong['instrument.price_cents']}>
          <input
            className="input w-full text-right"
            inputMode="decimal"
            {...register('price', { validate: readable })}
          />
        </Field>
        <div className="col-span-full mt-1">
          {add.error && (
            <p role="alert" className="mb-2 text-error">
              {add.error.message}
            </p>
          )}
          <button className="btn btn-primary" disabled={add.isPending}>
            Add it
          </button>
        </div>
      </form>
    </section>
  )
}
