import { useMutation } from '@tanstack/react-query'
import { api, onceKey, take, type Schemas } from '../../api/client'
import { refresh } from '../../api/queries'
import { useNotice } from '../../shell/notice'

/** Takes the instrument back; what its return makes due stands on Today at once. */
export function Return({ instrument }: { instrument: Schemas['Listed'] }) {
  const notice = useNotice()
  const back = useMutation({
    mutationFn: () =>
      take(api.POST('/api/v1/instruments/{id}/return', { params: { path: { id: instrument.id }, header: onceKey() } })),
    onSuccess: async () => {
      notice.show(`${instrument.tag} is back. What is due at a return stands on Today.`)
      await refresh()
    },
    onError: (problem) => notice.show(problem.message),
  })
  return (
    <button className="btn btn-sm" disabled={back.isPending} onClick={() => back.mutate()}>
      Return
    </button>
  )
}
