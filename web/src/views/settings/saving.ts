// Saving and removing one of many: a term, a break, an ensemble, a concert.
import { refresh } from '../../api/queries'
import { useWrite } from '../../api/write'
import { useNotice } from '../../shell/notice'

export function useSaving<T>(
  put: (item: T) => Promise<unknown>,
  remove: (item: T) => Promise<unknown> = () => Promise.reject(new Error('This is not removed.')),
) {
  const notice = useNotice()
  const save = useWrite({
    send: (item: T) => put(item),
    onSuccess: async () => {
      notice.show('Saved.')
      await refresh()
    },
  })
  const drop = useWrite({
    send: (item: T) => remove(item),
    onSuccess: async (_, item) => {
      notice.show('Removed.', () => put({ ...item, version: 0 })) // as a new one, with the id that it had
      await refresh()
    },
  })
  const problem = save.error ?? drop.error
  return {
    save: save.mutateAsync,
    remove: drop.mutate,
    busy: save.isPending || drop.isPending,
    error: problem?.message,
    wrong: save.error ? save.wrong : drop.wrong,
  }
}
