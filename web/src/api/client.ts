// The one way to the server: typed calls, errors as Problem, writes that may be sent twice without harm.
import { MutationCache, QueryCache, QueryClient } from '@tanstack/react-query'
import createClient from 'openapi-fetch'
import { takenAhead } from './ahead'
import type { components, paths } from './schema'
import { newID } from './id'
import { outcomeOf } from './outcome'
import { unchanged } from './unchanged'

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

  get outcome() {
    return outcomeOf(this.status)
  }

  /** True when the same call may well succeed a little later. A server that stumbled over it stumbles again. */
  get passing() {
    return this.outcome === 'later' || (this.outcome === 'unknown' && this.status !== 500)
  }
}

const away = new Problem(0, 'The server does not answer. What you typed is kept here.')

export const api = createClient<paths>({
  baseUrl: location.origin,
  // Looked up at each call, so that it can be replaced while the page is open.
  fetch: (request) => takenAhead(request, performance.now()) ?? window.fetch(request),
})

api.use(unchanged)

const keyHeader = 'Idempotency-Key'

// The keys of writes that have no answer yet, by all that was sent. Whoever presses again sends the same and so uses the same key.
const unanswered = new Map<string, string>()
const meantBy = new WeakMap<Request, string>()

api.use({
  async onRequest({ request }) {
    if (request.method === 'GET' || request.headers.has(keyHeader)) return
    const meant = `${request.method} ${request.url} ${digest(new Uint8Array(await request.clone().arrayBuffer()))}`
    const key = unanswered.get(meant) ?? newID()
    unanswered.set(meant, key)
    request.headers.set(keyHeader, key)
    meantBy.set(request, meant)
    return request
  },
  onResponse({ request, response }) {
    const meant = meantBy.get(request)
    if (meant !== undefined && (response.ok || outcomeOf(response.status) === 'refused')) unanswered.delete(meant)
  },
})

/** A short name of some bytes: their length, and two sums (FNV-1a from two starts), so that large files are not kept for it. */
function digest(bytes: Uint8Array) {
  let [a, b] = [0x811c9dc5, 0x1000193]
  for (const byte of bytes) {
    a = Math.imul(a ^ byte, 0x01000193)
    b = Math.imul(b ^ byte, 0x85ebca6b)
  }
  return `${String(bytes.length)}-${(a >>> 0).toString(16)}-${(b >>> 0).toString(16)}`
}

export type Answer<T> = { data?: T; error?: unknown; response: Response }

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

/** The header of a write whose key is kept longer than the page, with a draft. */
export const onceKey = (id: string) => ({ [keyHeader]: id })

// Whoever is out while a page is open is led to the way in, and who is asked for a second factor to that.
function outMeanwhile(error: Error) {
  const wasIn = queryClient.getQueryData(['session']) !== undefined
  if (error instanceof Problem && [401, 403].includes(error.status) && wasIn)
    void queryClient.invalidateQueries({ queryKey: ['session'] })
}

export const queryClient: QueryClient = new QueryClient({
  queryCache: new QueryCache({
    onError: (error, { queryKey }) => {
      if (queryKey[0] !== 'session') outMeanwhile(error)
    },
  }),
  mutationCache: new MutationCache({ onError: outMeanwhile }),
  defaultOptions: {
    queries: {
      staleTime: 20_000,
      networkMode: 'always',
      retry: (count, error) => error instanceof Problem && error.passing && count < 3,
    },
    mutations: { networkMode: 'always' },
  },
})
