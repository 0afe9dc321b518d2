import { api, take } from '../../api/client'
import { refresh } from '../../api/queries'
import { useWrite } from '../../api/write'
import { useEntry } from '../../shell/entry'
import { Field } from '../../shell/Field'
import { useNotice } from '../../shell/notice'

/** A supply that the catalogue does not know: counted, bought and ordered like any other from then on. */
export function AddSupply({ onDone }: { onDone: () => void }) {
  const notice = useNotice()
  const { register, submit } = useEntry({ defaultValues: { name: '' } })
  const add = useWrite({
    send: (body: { name: string }) => take(api.POST('/api/v1/supplies', { body })),
    onSuccess: async (_, { name }) => {
      notice.show(`${name} is a supply of yours.`)
      onDone()
      await refresh()
    },
  })
  return (
    <form
      aria-label="A supply of your own"
      className="mt-3 flex max-w-3xl items-end gap-2 bg-base-200 p-4"
      onSubmit={submit((v) => add.mutate(v))}
    >
      <div className="w-72">
        <Field label="What it is called" error={add.error?.message}>
          <input className="input input-sm w-full" required maxLength={40} {...register('name')} />
        </Field>
      </div>
      <button className="btn btn-primary btn-sm" disabled={add.isPending}>
        Add it
      </button>
    </form>
  )
}
