import { useNavigate } from 'react-router'
import { api, take, type Schemas } from '../../api/client'
import { refresh } from '../../api/queries'
import { useWords } from '../../api/words'
import { useWrite } from '../../api/write'
import { useEntry } from '../../shell/entry'
import { FormEnd } from '../../shell/FormEnd'
import { useNotice } from '../../shell/notice'

type Form = { findings: string[]; asks: string }

type Props = { file: Schemas['File']; diagnosed: boolean; onClose: () => void }

/** Makes a job for a repair shop, of what is open on the instrument and in one's own words. */
export function ToShop({ file, diagnosed, onClose }: Props) {
  const { toShop } = useWords()
  const notice = useNotice()
  const go = useNavigate()
  const { register, submit } = useEntry<Form>({
    defaultValues: {
      findings: file.findings.filter((f) => toShop(f.action)).map((f) => f.id),
      asks: '',
    },
  })
  const want = useWrite({
    send: async (f: Form, id) => {
      const job = id()
      const done = await take(
        api.POST('/api/v1/shop/jobs', {
          body: {
            id: job,
            instrument_id: file.instrument.id,
            origin: diagnosed ? 'diagnosis' : f.findings.length > 0 ? 'finding' : 'hand',
            findings: f.findings,
            ...(f.asks.trim() ? { asks: f.asks.trim() } : {}),
          },
        }),
      )
      return { job, ...done }
    },
    onSuccess: async ({ job, events }) => {
      notice.show(`A job for ${file.listed.tag}.`, events)
      await refresh()
      await go(`/shop/jobs/${job}`)
    },
  })
  return (
    <form
      aria-label="To a shop"
      className="no-print my-3 max-w-2xl rounded-lg bg-base-200 p-3"
      onSubmit={submit((f) => want.mutate(f))}
    >
      {file.rental ? (
        <p>It belongs to {file.rental.owner}: the owner is told, on the Shop’s page.</p>
      ) : (
        <>
          {file.findings.map((f) => (
            <label key={f.id} className="flex min-h-8 items-center gap-2">
              <input type="checkbox" className="checkbox checkbox-sm" value={f.id} {...register('findings')} />
              {f.name}
            </label>
          ))}
          <textarea
            className="textarea mt-1 min-h-14 w-full text-sm"
            aria-label="What the shop should see to"
            placeholder="What the shop should see to, in your own words"
            {...register('asks')}
          />
        </>
      )}
      <FormEnd error={want.error} busy={want.isPending || Boolean(file.rental)} name="Make a job" onClose={onClose} />
    </form>
  )
}
