import { api, take, type Schemas } from '../../api/client'
import { refresh, useMay } from '../../api/queries'
import { useWrite } from '../../api/write'
import { useNotice } from '../../shell/notice'
import { fullDay } from '../../words'

/** To whom a free instrument is promised by name: no door lets it out to another until its day. */
export function Promised({ of }: { of: Schemas['Listed'] }) {
  const may = useMay('change instruments')
  const notice = useNotice()
  const end = useWrite({
    send: () => take(api.DELETE('/api/v1/instruments/{id}/promise', { params: { path: { id: of.id } } })),
    onSuccess: async (result) => {
      notice.show(`${of.tag} is promised to nobody.`, result.events)
      await refresh()
    },
    onError: (problem) => notice.show(problem.message),
  })
  if (!of.promised) return null
  return (
    <p className="mt-1 text-sm">
      Promised to <b>{of.promised.to}</b> until {fullDay(of.promised.until)}.{' '}
      {may && (
        <button className="because" disabled={end.isPending} onClick={() => end.mutate()}>
          take it back
        </button>
      )}
    </p>
  )
}
