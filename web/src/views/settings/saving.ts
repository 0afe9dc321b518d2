// Saving and removing one of many: a term, a break, an ensemble, a concert.
import { useMutation } from '@tanstack/react-query'
import { onceKey, Problem } from '../../api/client'
import { refresh } from '../../api/queries'
import { useNotice } from '../../shell/notice'

type Header = ReturnType<typeof onceKey>

export function useSaving<T>(
  put: (item: T, header: Header) => Promise<unknown>,
  remove: (item: T, header: Header) => Promise<unknown> = () => Promise.reject(new Error('This is not removed.')),
) {
  const notice = useNotice()
  const done = (text: string) => async () => {
    notice.show(text)
    await refresh()
  }
  const save = useMutation({ mutationFn: (item: T) => put(item, onceKey()), onSuccess: done('Saved.') })
  const drop = useMutation({ mutationFn: (item: T) => remove(item, onceKey()), onSuccess: done('Removed.') })
  const problem = save.error ?? drop.error
  return {
    save: save.mutateAsync,
    remove: drop.mutate,
    busy: save.isPending || drop.isPending,
    error: problem?.message,
    wrong: problem instanceof Problem ? problem.fields : {},
  }
}
