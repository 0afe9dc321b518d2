import { afterEach, beforeEach, expect, test, vi } from 'vitest'
import { takenAhead } from './ahead'

const url = 'http://quillhaven.example/api/v1/today'

beforeEach(() => {
  globalThis.askedAhead = new Map([[url, Promise.resolve(new Response('first'))]])
})

afterEach(() => {
  globalThis.askedAhead = undefined
  vi.unstubAllGlobals()
})

test('an answer is taken once', async () => {
  const answer = await takenAhead(new Request(url), 100)
  expect(await answer?.text()).toBe('first')
  expect(takenAhead(new Request(url), 200)).toBeUndefined()
})

test('a write and another address are asked by themselves', () => {
  expect(takenAhead(new Request('http://quillhaven.example/api/v1/room'), 100)).toBeUndefined()
  expect(takenAhead(new Request(url, { method: 'POST' }), 100)).toBeUndefined()
})

test('an answer of long ago is not taken', () => {
  expect(takenAhead(new Request(url), 11_000)).toBeUndefined()
})

test('whoever was not signed in then is asked for again', async () => {
  globalThis.askedAhead = new Map([[url, Promise.resolve(new Response('', { status: 401 }))]])
  vi.stubGlobal('fetch', () => Promise.resolve(new Response('now')))
  const answer = await takenAhead(new Request(url), 100)
  expect(await answer?.text()).toBe('now')
})
