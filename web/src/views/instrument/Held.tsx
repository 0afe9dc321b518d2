import { useState } from 'react'
import { Link } from 'react-router'
import { api, take, type Schemas } from '../../api/client'
import { refresh, useMay } from '../../api/queries'
import { useWrite } from '../../api/write'
import { Caution } from '../../shell/Caution'
import { useEntry } from '../../shell/entry'
import { Field } from '../../shell/Field'
import { useNotice } from '../../shell/notice'

/** Why the instrument waits, and the way to let it go once somebody has done what it waits for. */
export function Held({ instrument, run }: { instrument: Schemas['Listed']; run: string | undefined }) {
  const may = useMay('finish care')
  const notice = useNotice()
  const [open, setOpen] = useState(false)
  const { register, submit } = useEntry({ defaultValues: { how: '' } })
  const release = useWrite({
    send: (body: { how: string }) =>
      take(
        api.POST('/api/v1/instruments/{id}/release', {
          params: { path: { id: instrument.id } },
          body,
        }),
      ),
    onSuccess: async (result) => {
      notice.show(`${instrument.tag} is free again.`, result.events)
      await refresh()
    },
  })
  return (
    <div className="mt-3 border-l-3 border-warning pl-3">
      <p>
        <b>Held:</b> {instrument.held}. It goes into nobody’s hands before that is done.{' '}
        <Link className="link" to={run ? `/bench/runs/${run}` : '/bench'}>
          {run ? 'It is at the bench now' : 'To the bench'}
        </Link>{' '}
        {may && !open && (
          <button className="because" onClick={() => setOpen(true)}>
            it is done
          </button>
        )}
      </p>
      {open && (
        <form className="mt-2 max-w-xl" onSubmit={submit((v) => release.mutate(v))}>
          <Caution>
            Gloves and fresh air; never mix products; the contact time stands on the label, and the label and your
            school’s rules decide over this page.
          </Caution>
          <Field label="What was done, with which product and lot, and until when it dried" error={release.wrong.how}>
            <input className="input input-sm w-full" maxLength={500} autoFocus {...register('how')} />
          </Field>
          {release.error && (
            <p role="alert" className="text-sm text-error">
              {release.error.message}
            </p>
          )}
          <div className="mt-2 flex gap-2">
            <button className="btn btn-primary btn-sm" disabled={release.isPending}>
              Let it go
            </button>
            <button type="button" className="btn btn-sm" onClick={() => setOpen(false)}>
              Not yet
            </button>
          </div>
        </form>
      )}
    </div>
  )
}
