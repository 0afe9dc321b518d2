// Ticking care off. What was ticked is written down in the browser first and crossed out there when the server has it, or has refused it,
// so that a closed page, a lost connection or a session that ended loses nothing.
import { useMutation, useMutationState, type UseMutationOptions } from '@tanstack/react-query'
import { api, onceKey, Problem, queryClient, take, type Schemas } from './client'
import { refresh } from './queries'
import { newID } from './id'

type Finish = Schemas['Finish']
export type Kept = { id: string; body: Finish; by?: string | undefined }

const drawer = 'solfeggio-unsent'

export function kept(): Kept[] {
  try {
    return JSON.parse(localStorage.getItem(drawer) ?? '[]') as Kept[]
  } catch {
    return []
  }
}

const keep = (list: Kept[]) => localStorage.setItem(drawer, JSON.stringify(list))
const crossOut = (id: string) => keep(kept().filter((k) => k.id !== id))

/** Who is signed in: nobody's ticks go out in somebody else's name. */
const me = () => queryClient.getQueryData<Schemas['Session']>(['session'])?.person.id

async function send({ id, body }: Kept) {
  try {
    const result = await take(api.POST('/api/v1/care', { body, params: { header: onceKey(id) } }))
    crossOut(id)
    return result
  } catch (problem) {
    if (problem instanceof Problem && problem.outcome === 'refused') crossOut(id)
    throw problem
  }
}

const mutationKey = ['finish']

/** What is on its way: ticked here, and not yet answered and seen in what the screens read. */
export function useOnTheWay() {
  return useMutationState({
    filters: { mutationKey, status: 'pending' },
    select: (m) => (m.state.variables as Kept).body.tasks,
  }).flat()
}

/** How a tick is sent: written down first, and again and again while the server may take it later. */
export const finishing = (
  done: (result: Schemas['Finished']) => void,
): UseMutationOptions<Schemas['Finished'], Error, Kept> => ({
  mutationKey,
  mutationFn: send,
  onMutate: (item) => keep([...kept().filter((k) => k.id !== item.id), item]),
  onSuccess: async (result) => {
    done(result)
    await refresh()
  },
  retry: (_, problem) => problem instanceof Problem && problem.passing,
  retryDelay: 2000,
})

export const useFinish = (done: (result: Schemas['Finished']) => void) => useMutation(finishing(done))

export const newFinish = (tasks: Finish['tasks'], done_on?: string): Kept => ({
  id: newID(),
  body: { tasks, ...(done_on ? { done_on } : {}) },
  by: me(),
})

/** Sends what an earlier page could not. What the server refuses keeps nothing else back: it is said, and crossed out. */
export async function sendKept() {
  let sent = 0
  const refused: string[] = []
  for (const item of kept().filter((k) => k.by === undefined || k.by === me())) {
    try {
      await send(item)
      sent++
    } catch (problem) {
      if (!(problem instanceof Problem) || (problem.outcome !== 'refused' && problem.status !== 500)) throw problem
      refused.push(problem.message)
    }
  }
  return { sent, refused }
}

/** Says of what was cared for that it stays stopped for players. */
export const stillStopped = (result: Schemas['Finished']) => result.stopped.map((still) => ` ${still}.`).join('')
