// The one way to the server: typed calls, errors as Problem, writes that may be sent twice without harm.
import { QueryClient } from '@tanstack/react-query'
import createClient from 'openapi-fetch'
import type { components, paths } from './schema'

export type Schemas = components['schemas']

/** An answer that is not the one hoped for, in words for a person. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly fields: Record<string, string> = {},
  ) {
    super(message)
  }

  /** True when the same call may well succeed a little later. */
  get passing() {
    return this.status === 0 || this.status === 503
  }
}

const away = new Problem(0, 'The server does not answer. What you typed is kept here; try again in a moment.')

export const api = createClient<paths>({
  baseUrl: location.origin,
  // Looked up at each call, so that it can be replaced while the page is open.
  fetch: (request) => window.fetch(request),
})

type Answer<T> = { data?: T; error?: unknown; response: Response }

/** Takes the data out of an answer or throws a Problem. */
export async function take<T>(call: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>
  try {
    answer = await call
  } catch {
    throw away
  }
  if (answer.response.ok) return answer.data as T
  const p = answer.error as Partial<Schemas['ErrorModel']> | undefined
  const fields: Record<string, string> = {}
  for (const e of p?.errors ?? []) fields[(e.location ?? '').replace(/^(body|query)\.?/, '')] = e.message ?? ''
  throw new Problem(
    answer.response.status,
    p?.detail ?? `The server answered with ${String(answer.response.status)}.`,
    fields,
  )
}

/** The header that makes a write safe to send again. */
export const onceKey = (id: string = crypto.randomUUID()) => ({ 'Idempotency-Key': id })

export const queryClient = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 20_000,
      networkMode: 'always',
      retry: (count, error) => error instanceof Problem && error.passing && count < 3,
    },
    mutations: { networkMode: 'always' },
  },
})
