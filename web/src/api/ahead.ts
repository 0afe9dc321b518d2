// What public/ahead.js asked for while this script was on its way.
declare global {
  /** Its answers by address; undefined where it was kept from running. */
  var askedAhead: Map<string, Promise<Response>> | undefined
}

/** How long after the page began an answer is still one to begin with, in milliseconds. */
const beginning = 10_000

/** The answer to what was asked before, once. One that says no is asked for again: somebody may have signed in since. */
export function takenAhead(request: Request, sinceBegun: number) {
  const answer = request.method === 'GET' ? globalThis.askedAhead?.get(request.url) : undefined
  globalThis.askedAhead?.delete(request.url)
  if (!answer || sinceBegun > beginning) return undefined
  return answer.then((a) => (a.ok ? a : fetch(request)))
}
