import { useState } from 'react'
import { useNavigate } from 'react-router'
import { api, take, type Schemas } from '../../api/client'
import { refresh, useHeader } from '../../api/queries'
import { useWrite } from '../../api/write'
import { useEntry } from '../../shell/entry'
import { Field } from '../../shell/Field'
import { FormEnd } from '../../shell/FormEnd'
import { useNotice } from '../../shell/notice'
import { centsOf, typedCents } from '../../words'

type Form = { owner: string; contact: string; contract: string; starts_on: string; return_by: string; monthly: string }

/** Whose the instrument is, and how it leaves: back to its owner, in exchange for another, or otherwise. */
export function Rented({ file }: { file: Schemas['File'] }) {
  const { instrument, rental, listed } = file
  const [open, setOpen] = useState<'contract' | 'exchange' | 'leave' | null>(null)
  const close = () => setOpen(null)
  return (
    <section aria-label="Owner" className="line mt-6 border-t border-base-300 pt-4">
      <h2>{rental ? `Rented from ${rental.owner}` : 'The school’s own'}</h2>
      <p className="mt-1 flex flex-wrap gap-x-4">
        <button className="because" onClick={() => setOpen('contract')}>
          {rental ? 'change the contract' : 'it is rented'}
        </button>
        {rental && (
          <button className="because" onClick={() => setOpen('exchange')}>
            exchange it for another
          </button>
        )}
        {!listed.played && (
          <button className="because" onClick={() => setOpen('leave')}>
            {rental ? 'give it back' : 'it leaves the school'}
          </button>
        )}
      </p>
      {open === 'contract' && <Contract id={instrument.id} rental={rental} onClose={close} />}
      {open === 'exchange' && <Exchange id={instrument.id} tag={instrument.tag} onClose={close} />}
      {open === 'leave' && <Leave id={instrument.id} tag={instrument.tag} rental={rental} onClose={close} />}
    </section>
  )
}

type Closing = { onClose: () => void }

function Contract({ id, rental, onClose }: Closing & { id: string; rental: Schemas['Rental'] | undefined }) {
  const { data: header } = useHeader()
  const notice = useNotice()
  const { register, submit } = useEntry<Form>({
    defaultValues: {
      owner: rental?.owner ?? '',
      contact: rental?.contact ?? '',
      contract: rental?.contract ?? '',
      starts_on: rental?.starts_on ?? header?.today ?? '',
      return_by: rental?.return_by ?? '',
      monthly: typedCents(rental?.monthly_cents),
    },
  })
  const save = useWrite({
    send: (f: Form, newID) => {
      const cents = centsOf(f.monthly)
      return take(
        api.PUT('/api/v1/instruments/{id}/rental', {
          params: { path: { id } },
          body: {
            id: rental?.id ?? newID(),
            ...{ owner: f.owner, contact: f.contact, contract: f.contract, starts_on: f.starts_on },
            ...(f.return_by ? { return_by: f.return_by } : {}),
            ...(cents === null ? {} : { monthly_cents: cents }),
            version: rental?.version ?? 0,
          },
        }),
      )
    },
    onSuccess: async () => {
      notice.show('Saved.')
      onClose()
      await refresh()
    },
  })
  const { wrong } = save
  const text = (name: keyof Form, label: string, type = 'text', error = wrong[name]) => (
    <Field label={label} error={error}>
      <input className="input input-sm w-full" type={type} {...register(name)} />
    </Field>
  )
  return (
    <form
      aria-label="Contract"
      className="mt-3 grid gap-3 bg-base-200 p-4 sm:grid-cols-3"
      onSubmit={submit((f) => save.mutate(f))}
    >
      {text('owner', 'Owner')}
      {text('contact', 'How to reach them')}
      {text('contract', 'Contract')}
      {text('starts_on', 'From', 'date')}
      {text('return_by', 'To be returned by', 'date')}
      {text('monthly', 'Price a month', 'text', wrong.monthly_cents)}
      <FormEnd error={save.error} busy={save.isPending} name="Save" onClose={onClose} />
    </form>
  )
}

function Exchange({ id, tag, onClose }: Closing & { id: string; tag: string }) {
  const navigate = useNavigate()
  const notice = useNotice()
  const { register, submit } = useEntry<Omit<Schemas['Exchange'], 'id'>>({ defaultValues: { tag: '' } })
  const swap = useWrite({
    send: (f: Omit<Schemas['Exchange'], 'id'>, newID) => {
      const next = newID()
      return take(
        api.POST('/api/v1/instruments/{id}/exchange', {
          params: { path: { id } },
          body: { ...f, id: next },
        }),
      ).then(() => next)
    },
    onSuccess: async (next, f) => {
      notice.show(`${f.tag} stands in for ${tag}, under the same contract.`)
      await refresh()
      void navigate(`/instruments/${next}`)
    },
  })
  const { wrong } = swap
  return (
    <form
      aria-label="Exchange"
      className="mt-3 grid gap-3 bg-base-200 p-4 sm:grid-cols-4"
      onSubmit={submit((f) => swap.mutate(f))}
    >
      <p className="quiet text-sm sm:col-span-4">
        The owner brings another of the same kind and size. The contract goes on; whoever has {tag} has the other.
      </p>
      {(
        [
          ['tag', 'Its tag'],
          ['maker', 'Maker'],
          ['model', 'Model'],
          ['serial', 'Serial number'],
        ] as const
      ).map(([name, label]) => (
        <Field key={name} label={label} error={wrong[name]}>
          <input className="input input-sm w-full" required={name === 'tag'} {...register(name)} />
        </Field>
      ))}
      <FormEnd error={swap.error} busy={swap.isPending} name="Exchange" onClose={onClose} />
    </form>
  )
}

type LeaveProps = Closing & { id: string; tag: string; rental: Schemas['Rental'] | undefined }

function Leave({ id, tag, rental, onClose }: LeaveProps) {
  const notice = useNotice()
  const [how, setHow] = useState(rental ? `Given back to ${rental.owner}` : '')
  const leave = useWrite({
    send: () => take(api.POST('/api/v1/instruments/{id}/leave', { params: { path: { id } }, body: { how } })),
    onSuccess: async () => {
      notice.show(`${tag} is in no list any more. Its file stays.`)
      onClose()
      await refresh()
    },
  })
  return (
    <form
      aria-label="Leave"
      className="mt-3 grid gap-3 bg-base-200 p-4"
      onSubmit={(e) => {
        e.preventDefault()
        leave.mutate()
      }}
    >
      <Field label="Where it went" error={leave.wrong.how}>
        <input
          className="input input-sm w-full"
          value={how}
          maxLength={300}
          onChange={(e) => setHow(e.currentTarget.value)}
        />
      </Field>
      <FormEnd error={leave.error} busy={leave.isPending} name="It is gone" onClose={onClose} />
    </form>
  )
}
