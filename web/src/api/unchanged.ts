// Answers that name people are kept by no browser (no-store). While the page is open they are kept here, so that the server can say
// "unchanged" instead of sending them again.
import type { Middleware } from 'openapi-fetch'

/** So many answers are kept, the longest unused goes first. */
const most = 80

type Kept = { etag: string; body: string; type: string }

const answers = new Map<string, Kept>()

/** Puts what was said before in the place of "unchanged". */
export const unchanged: Middleware = {
  onRequest({ request }) {
    const known = request.method === 'GET' ? answers.get(request.url) : undefined
    if (known) request.headers.set('If-None-Match', known.etag)
    return request
  },
  async onResponse({ request, response }) {
    if (request.method !== 'GET') return undefined
    const known = answers.get(request.url)
    if (response.status === 304 && known) {
      keep(request.url, known)
      return new Response(known.body, { status: 200, headers: { 'Content-Type': known.type } })
    }
    const etag = response.headers.get('ETag')
    if (response.ok && etag)
      keep(request.url, { etag, body: await response.clone().text(), type: response.headers.get('Content-Type') ?? '' })
    else answers.delete(request.url)
    return undefined
  },
}

/** Whoever signs out leaves nothing behind. */
export const forgetAnswers = () => {
  answers.clear()
}

function keep(url: string, answer: Kept) {
  answers.delete(url)
  answers.set(url, answer)
  const oldest = answers.keys().next()
  if (answers.size > most && !oldest.done) answers.delete(oldest.value)
}
