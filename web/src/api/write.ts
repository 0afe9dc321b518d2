// Writes that may be pressed again. While no answer has come, the same thing goes out under the same key (see client.ts), with the same
// ids, so that whatever became of the first press it is done once.
import { useMutation, type UseMutationOptions } from '@tanstack/react-query'
import { useRef } from 'react'
import { Problem } from './client'
import { newID } from './id'

/** The n-th id that this write makes; the same until it was answered. */
export type NewID = (n?: number) => string

type Options<Out, In> = Omit<UseMutationOptions<Out, Error, In>, 'mutationFn'> & {
  send: (input: In, id: NewID) => Promise<Out>
}

const unanswered =
  'No answer came, so nobody here knows whether it was kept. Press again when the server answers: it is done once.'

export function useWrite<Out, In = void>({ send, ...options }: Options<Out, In>) {
  const ids = useRef<string[]>([])
  return useMutation<Out, Error, In>({
    ...options,
    mutationFn: async (input) => {
      try {
        const out = await send(input, (n = 0) => (ids.current[n] ??= newID()))
        ids.current = []
        return out
      } catch (problem) {
        if (problem instanceof Problem && problem.status === 0) throw new Problem(0, `${problem.message} ${unanswered}`)
        if (!(problem instanceof Problem && problem.passing)) ids.current = []
        throw problem
      }
    },
  })
}
