// A step of a job: sent once, then everything is read anew, with the way back.
import type { Schemas } from '../../api/client'
import { Problem } from '../../api/client'
import { refresh } from '../../api/queries'
import { useWrite, type NewID } from '../../api/write'
import { useNotice } from '../../shell/notice'

type Changed = Schemas['Changed']

export function useStep<In = void>(send: (input: In, id: NewID) => Promise<Changed>, says: string) {
  const notice = useNotice()
  const step = useWrite<Changed, In>({
    send,
    onSuccess: async (done) => {
      notice.show(says, done.events)
      await refresh()
    },
    // What somebody else did meanwhile is shown at once; what was typed stays.
    onError: (problem) => problem instanceof Problem && problem.status === 409 && refresh(),
  })
  return {
    take: step.mutate,
    busy: step.isPending,
    error: step.error?.message,
    wrong: step.wrong,
  }
}

/** Where a step goes wrong that names one field only, its words stand with the button. */
export const firstWords = (step: { error: string | undefined; wrong: Record<string, string> }) =>
  Object.values(step.wrong)[0] ?? step.error
