// What becomes of writes that do not succeed at once: ticks that wait, keys that are kept, ids that stay the same.
import { MutationObserver } from '@tanstack/react-query'
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest'

const page = new Map<string, string>()
vi.stubGlobal('location', { origin: 'http://school.test', pathname: '/', search: '' })
vi.stubGlobal('localStorage', {
  getItem: (key: string) => page.get(key) ?? null,
  setItem: (key: string, value: string) => page.set(key, value),
})
vi.stubGlobal('document', { querySelector: () => null })

let answers: (number | 'cut')[] = []
let keys: string[] = []
vi.stubGlobal('window', {
  fetch: (request: Request) => {
    keys.push(request.headers.get('Idempotency-Key') ?? '')
    const status = answers.shift() ?? 200
    if (status === 'cut') return Promise.reject(new TypeError('cut off'))
    const body = status === 200 ? { events: [], already: [], stopped: [] } : { detail: `said ${String(status)}` }
    return Promise.resolve(
      new Response(JSON.stringify(body), { status, headers: { 'Content-Type': 'application/json' } }),
    )
  },
})

const { api, Problem, queryClient, take } = await import('./client')
const { finishing, kept, newFinish, sendKept } = await import('./finish')
const { outcomeOf } = await import('./outcome')
const { repeatable } = await import('./write')

beforeEach(() => {
  page.clear()
  answers = []
  keys = []
})
afterEach(() => {
  vi.useRealTimers()
  queryClient.clear()
})

test.each([
  [0, 'unknown'],
  [401, 'signed out'],
  [403, 'refused'],
  [408, 'unknown'],
  [409, 'refused'],
  [422, 'refused'],
  [429, 'later'],
  [500, 'unknown'],
  [502, 'unknown'],
  [503, 'later'],
  [504, 'unknown'],
  [507, 'later'],
])('an answer of %i means %s', (status, outcome) => expect(outcomeOf(status)).toBe(outcome))

const tick = () => newFinish([{ instrument_id: 'i', routine: 'wipe', part: '' }])

describe('a tick', () => {
  test.each([401, 500])('answered %i is kept', async (status) => {
    answers = [status]
    await new MutationObserver(
      queryClient,
      finishing(() => undefined),
    )
      .mutate(tick())
      .catch(() => undefined)
    expect(kept()).toHaveLength(1)
  })
  test.each([429, 502, 503, 504, 'cut' as const])('answered %s goes out again under its key', async (status) => {
    vi.useFakeTimers()
    answers = [status, 200]
    const done = new MutationObserver(
      queryClient,
      finishing(() => undefined),
    ).mutate(tick())
    await vi.advanceTimersByTimeAsync(1000)
    expect(kept()).toHaveLength(1)
    await vi.advanceTimersByTimeAsync(2000)
    await done
    expect(kept()).toHaveLength(0)
    expect(new Set(keys).size).toBe(1)
    expect(keys).toHaveLength(2)
  })
  test('that is refused is crossed out, and keeps none behind it back', async () => {
    page.set('solfeggio-unsent', JSON.stringify([tick(), tick()]))
    answers = [422, 200]
    expect(await sendKept()).toEqual({ sent: 1, refused: ['said 422'] })
    expect(kept()).toHaveLength(0)
  })
  test('of somebody else waits for them', async () => {
    page.set('solfeggio-unsent', JSON.stringify([{ ...tick(), by: 'Ilse' }]))
    queryClient.setQueryData(['session'], { person: { id: 'Jory' } })
    expect(await sendKept()).toEqual({ sent: 0, refused: [] })
    expect(kept()).toHaveLength(1)
  })
})

describe('a write that is pressed again', () => {
  const save = () => take(api.POST('/api/v1/care', { body: { tasks: [] } }))
  test.each([401, 429, 502, 503, 504, 'cut' as const])('after %s has the key that it had', async (status) => {
    answers = [status, 200]
    await expect(save()).rejects.toBeInstanceOf(Problem)
    await save()
    await save()
    expect(keys[1]).toBe(keys[0])
    expect(keys[2]).not.toBe(keys[0])
  })
  test('after it was refused has another', async () => {
    answers = [422, 200]
    await expect(save()).rejects.toThrow('said 422')
    await save()
    expect(keys[1]).not.toBe(keys[0])
  })
  test.each([
    [504, true],
    [401, true],
    [422, false],
  ])('after %i makes the same thing: %s', async (status, same) => {
    const once = repeatable()
    const ids: string[] = []
    await once((id) => {
      ids.push(id())
      return Promise.reject(new Problem(status, 'no'))
    }).catch(() => undefined)
    await once((id) => Promise.resolve(ids.push(id())))
    expect(ids[0] === ids[1]).toBe(same)
  })
})
