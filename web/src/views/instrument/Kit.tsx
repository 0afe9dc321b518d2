import { useState } from 'react'
import { Link } from 'react-router'
import { api, take, type Schemas } from '../../api/client'
import { refresh, useMay } from '../../api/queries'
import { useWrite } from '../../api/write'
import { KitStates } from '../../shell/KitStates'
import { useNotice } from '../../shell/notice'
import { fullDay } from '../../words'

type States = Record<string, Schemas['KitThing']['state']>

/** What belongs in its case, and how it was last found. */
export function Kit({ file }: { file: Schemas['File'] }) {
  const may = useMay('inspect')
  const notice = useNotice()
  const [states, setStates] = useState<States>({})
  const save = useWrite({
    send: (body: States) =>
      take(
        api.POST('/api/v1/instruments/{id}/kit', {
          params: { path: { id: file.instrument.id } },
          body: { states: body },
        }),
      ),
    onSuccess: async (result) => {
      notice.show('The kit is noted.', result.events)
      setStates({})
      await refresh()
    },
  })
  const faults = file.kit.filter((t) => t.state !== 'there')
  return (
    <section aria-label="Kit" className="max-w-2xl">
      <p className="quiet">
        {file.kit_checked ? `Looked through on ${fullDay(file.kit_checked)}.` : 'Nobody has looked through it yet.'}{' '}
        {faults.length > 0 && (
          <>
            {faults.map((t) => `${t.name}: ${t.state}`).join(', ')}.{' '}
            <Link className="link" to="/supplies">
              Refill
            </Link>
          </>
        )}
      </p>
      <fieldset disabled={!may} className="mt-1">
        <KitStates
          things={file.kit}
          states={states}
          onChange={(supply, state) => setStates({ ...states, [supply]: state })}
        />
      </fieldset>
      {save.error && (
        <p role="alert" className="mt-2 text-error">
          {save.error.message} What you tapped is still here.
        </p>
      )}
      {may && (
        <button className="btn btn-primary btn-sm mt-3" disabled={save.isPending} onClick={() => save.mutate(states)}>
          {Object.keys(states).length > 0 ? 'Save' : 'All as it stands here'}
        </button>
      )}
    </section>
  )
}
