import createClient from 'openapi-fetch'
import { afterEach, expect, test } from 'vitest'
import { forgetAnswers, unchanged } from './unchanged'

type Paths = { '/things': { get: { responses: { 200: { content: { 'application/json': string[] } } } } } }

afterEach(forgetAnswers)

/** A server with one list, and what it was asked. */
function server() {
  const state = { list: ['tuba'], asked: [] as (string | null)[] }
  const client = createClient<Paths>({
    baseUrl: 'http://quillhaven.example',
    fetch: (request) => {
      const tag = `"${state.list.join('-')}"`
      const has = request.headers.get('If-None-Match')
      state.asked.push(has)
      if (has === tag) return Promise.resolve(new Response(null, { status: 304, headers: { ETag: tag } }))
      return Promise.resolve(Response.json(state.list, { headers: { ETag: tag } }))
    },
  })
  client.use(unchanged)
  return { state, ask: async () => (await client.GET('/things')).data }
}

test('what is unchanged is not sent again, and reads the same', async () => {
  const { state, ask } = server()
  expect(await ask()).toEqual(['tuba'])
  expect(await ask()).toEqual(['tuba'])
  state.list = ['tuba', 'flute']
  expect(await ask()).toEqual(['tuba', 'flute'])
  expect(await ask()).toEqual(['tuba', 'flute'])
  expect(state.asked).toEqual([null, '"tuba"', '"tuba"', '"tuba-flute"'])
})

test('nothing is left after signing out', async () => {
  const { state, ask } = server()
  await ask()
  forgetAnswers()
  await ask()
  expect(state.asked).toEqual([null, null])
})
