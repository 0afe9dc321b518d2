// Ticking care off. What was ticked is written down in the browser first and crossed out there when the server has it,
// so that a closed page or a lost connection loses nothing.
import { useMutation, useMutationState } from '@tanstack/react-query'
import { api, onceKey, Problem, take, type Schemas } from './client'
import { refresh } from './queries'
import { newID } from './id'

type Finish = Schemas['Finish']
type Kept = { id: string; body: Finish }

const drawer = 'solfeggio-unsent'

function kept(): Kept[] {
  try {
    return JSON.parse(localStorage.getItem(drawer) ?? '[]') as Kept[]
  } catch {
    return []
  }
}

const keep = (list: Kept[]) => localStorage.setItem(drawer, JSON.stringify(list))

async function send({ id, body }: Kept) {
  try {
    return await take(api.POST('/api/v1/care', { body, params: { header: onceKey(id) } }))
  } catch (problem) {
    // What the server refuses will not get better by waiting.
    if (problem instanceof Problem && !problem.passing) keep(kept().filter((k) => k.id !== id))
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

export function useFinish(done: (result: Schemas['Finished']) => void) {
  return useMutation({
    mutationKey,
    mutationFn: async (item: Kept) => {
      const result = await send(item)
      keep(kept().filter((k) => k.id !== item.id))
      return result
    },
    onMutate: (item) => keep([...kept(), item]),
    onSuccess: async (result) => {
      done(result)
      await refresh()
    },
    retry: (_, problem) => problem instanceof Problem && problem.passing,
    retryDelay: 2000,
  })
}

export const newFinish = (tasks: Finish['tasks'], done_on?: string): Kept => ({
  id: newID(),
  body: { tasks, ...(done_on ? { done_on } : {}) },
})

/** Sends what an earlier page could not. Answers how many that were. */
export async function sendKept() {
  let sent = 0
  for (const item of kept()) {
    await send(item)
    keep(kept().filter((k) => k.id !== item.id))
    sent++
  }
  return sent
}

/** Says of what was cared for that it stays stopped for players. */
export const stillStopped = (result: Schemas['Finished']) => result.stopped.map((still) => ` ${still}.`).join('')
