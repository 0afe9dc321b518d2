import { api, take, type Schemas } from '../../api/client'
import { refresh } from '../../api/queries'
import { useWrite } from '../../api/write'
import { useNotice } from '../../shell/notice'

type Props = { run: string; pouring: Schemas['Pouring'] }

/** Which lot a product is taken from; when a bottle is empty, the next one is named, so that the record stays true. */
export function Pouring({ run, pouring }: Props) {
  const notice = useNotice()
  const pour = useWrite({
    send: (lot: string) =>
      take(
        api.POST('/api/v1/bench/runs/{id}/lot', {
          params: { path: { id: run } },
          body: { product_id: pouring.product_id, lot },
        }),
      ),
    onSuccess: async (_, lot) => {
      await refresh()
      notice.show(`${pouring.product} comes from ${called(lot)} from now on.`)
    },
    onError: (problem) => notice.show(problem.message),
  })
  if (pouring.lots.length === 0)
    return (
      <p>
        {pouring.product}: {called(pouring.lot)} <span className="quiet">and no other in stock</span>
      </p>
    )
  return (
    <label className="flex flex-wrap items-center gap-2">
      {pouring.product} from
      <select
        className="select select-sm w-44"
        value={pouring.lot}
        disabled={pour.isPending}
        onChange={(e) => pour.mutate(e.currentTarget.value)}
      >
        {[pouring.lot, ...pouring.lots].map((lot) => (
          <option key={lot} value={lot}>
            {called(lot)}
          </option>
        ))}
      </select>
    </label>
  )
}

const called = (lot: string) => (lot === '' ? 'a pack without a number' : `lot ${lot}`)
