import { api, take, type Schemas } from '../../api/client'
import { useMay, useShelves } from '../../api/queries'
import { useEntry } from '../../shell/entry'
import { Field } from '../../shell/Field'
import { useSaving } from './saving'
import { newID } from '../../api/id'

type Shelf = Schemas['Shelf']

/** The racks of each room: shelves from the top, with how many slots each has. */
export function RoomSettings() {
  const { data: shelves, error } = useShelves()
  const may = useMay('change settings')
  if (error && !shelves) return <p role="alert">{error.message}</p>
  if (!shelves) return null
  const rooms = [...new Set(shelves.map((s) => s.room))]
  return (
    <fieldset disabled={!may} className="max-w-4xl">
      <p className="quiet">
        The slots of shelf A are A-01, A-02 and so on. What stands on a shelf goes along when it is renamed or put into
        another room.
      </p>
      {rooms.map((room) => (
        <section key={room} aria-label={room} className="mt-4">
          <h2 className="border-b-2 border-base-content pb-1">{room}</h2>
          {shelves
            .filter((s) => s.room === room)
            .map((s) => (
              <ShelfLine key={`${s.id}/${String(s.version)}`} shelf={s} />
            ))}
        </section>
      ))}
      <section aria-label="New shelf" className="mt-5">
        <h2>New shelf</h2>
        <ShelfLine
          key={shelves.length}
          shelf={{
            id: newID(),
            room: rooms[0] ?? '',
            rack: '',
            name: '',
            position: Math.max(-1, ...shelves.map((s) => s.position)) + 1,
            slots: 12,
            version: 0,
          }}
        />
      </section>
    </fieldset>
  )
}

function ShelfLine({ shelf }: { shelf: Shelf }) {
  const isNew = shelf.version === 0
  const { register, submit } = useEntry<Shelf>({ defaultValues: shelf })
  const saving = useSaving<Shelf>(
    (body) => take(api.PUT('/api/v1/shelves', { body })),
    (s) => take(api.DELETE('/api/v1/shelves/{id}', { params: { path: { id: s.id } } })),
  )
  const field = (name: 'room' | 'rack' | 'name', label: string) => (
    <Field label={label} error={saving.wrong[name]}>
      <input className="input input-sm w-full" {...register(name)} />
    </Field>
  )
  return (
    <form
      aria-label={isNew ? 'shelf to be added' : `shelf ${shelf.name}`}
      className="line grid items-end gap-2 py-1.5 sm:grid-cols-[1.4fr_1.2fr_70px_70px_70px_auto]"
      onSubmit={submit((s) => saving.save(s).catch(() => undefined))}
    >
      {field('room', 'Room')}
      {field('rack', 'Rack')}
      {field('name', 'Shelf')}
      <Field label="Slots" error={saving.wrong.slots}>
        <input
          className="input input-sm w-full"
          type="number"
          min={1}
          max={99}
          {...register('slots', { valueAsNumber: true })}
        />
      </Field>
      <Field label="Which from the top" error={saving.wrong.position}>
        <input className="input input-sm w-full" type="number" {...register('position', { valueAsNumber: true })} />
      </Field>
      <span className="flex gap-1.5">
        <button className="btn btn-primary btn-sm" disabled={saving.busy}>
          {isNew ? 'Add' : 'Save'}
        </button>
        {!isNew && (
          <button
            type="button"
            className="btn btn-sm"
            aria-label={`Remove shelf ${shelf.name}`}
            onClick={() => saving.remove(shelf)}
          >
            Remove
          </button>
        )}
      </span>
      {saving.error && (
        <p role="alert" className="text-sm text-error sm:col-span-6">
          {saving.error}
        </p>
      )}
    </form>
  )
}
