// Writes that may be pressed again. While no answer has come, the same thing goes out under the same key (see client.ts), with the same
// ids, so that whatever became of the first press it is done once.
import { useMutation, type UseMutationOptions } from '@tanstack/react-query'
import { useState } from 'react'
import { Problem } from './client'
import { newID } from './id'

/** The n-th id that this write makes; the same until it was answered. */
export type NewID = (n?: number) => string

type Options<Out, In> = Omit<UseMutationOptions<Out, Error, In>, 'mutationFn'> & {
  send: (input: In, id: NewID) => Promise<Out>
}

const unanswered =
  'No answer came, so nobody here knows whether it was kept. Press again when the server answers: it is done once.'

/** A write that keeps its ids until it was answered. */
export function repeatable() {
  let ids: string[] = []
  return async <Out>(send: (id: NewID) => Promise<Out>) => {
    try {
      const out = await send((n = 0) => (ids[n] ??= newID()))
      ids = []
      return out
    } catch (problem) {
      if (!(problem instanceof Problem) || problem.outcome === 'refused') ids = []
      if (problem instanceof Problem && problem.status !== 500 && problem.outcome === 'unknown')
        throw new Problem(problem.status, `${problem.message} ${unanswered}`, problem.fields)
      throw problem
    }
  }
}

/** Such a write for a screen, with what is wrong with what was sent: a sentence by the path of its field. */
export function useWrite<Out, In = void>({ send, ...options }: Options<Out, In>) {
  const [once] = useState(repeatable)
  const write = useMutation<Out, Error, In>({ ...options, mutationFn: (input) => once((id) => send(input, id)) })
  return { ...write, wrong: write.error instanceof Problem ? write.error.fields : {} }
}
