// Saving and removing one of many: a term, a break, an ensemble, a concert.
import { Problem } from '../../api/client'
import { refresh } from '../../api/queries'
import { useWrite } from '../../api/write'
import { useNotice } from '../../shell/notice'

export function useSaving<T>(
  put: (item: T) => Promise<unknown>,
  remove: (item: T) => Promise<unknown> = () => Promise.reject(new Error('This is not removed.')),
) {
  const notice = useNotice()
  const done = (text: string) => async () => {
    notice.show(text)
    await refresh()
  }
  const save = useWrite({ send: (item: T) => put(item), onSuccess: done('Saved.') })
  const drop = useWrite({ send: (item: T) => remove(item), onSuccess: done('Removed.') })
  const problem = save.error ?? drop.error
  return {
    save: save.mutateAsync,
    remove: drop.mutate,
    busy: save.isPending || drop.isPending,
    error: problem?.message,
    wrong: problem instanceof Problem ? problem.fields : {},
  }
}
