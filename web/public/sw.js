// Keeps the program itself and what a walk along the racks needs, so that a check goes on where there is no network.
// Files with a hash in their name never change; pages and readings come from the network when it answers.
const kept = 'solfeggio-1'
const readings = [/^\/api\/v1\/(session|header|instruments|room)$/, /^\/api\/v1\/instruments\/[^/]+(\/check)?$/]

self.addEventListener('install', (event) => {
  event.waitUntil(
    caches
      .open(kept)
      .then((cache) => cache.add('/'))
      .then(() => self.skipWaiting()),
  )
})
self.addEventListener('activate', (event) => event.waitUntil(self.clients.claim()))
// Signing out forgets what was read.
self.addEventListener('message', (event) => {
  if (event.data === 'forget') event.waitUntil(caches.delete(kept))
})

self.addEventListener('fetch', (event) => {
  const { request } = event
  const url = new URL(request.url)
  if (request.method !== 'GET' || url.origin !== location.origin) return
  if (url.pathname.startsWith('/assets/')) event.respondWith(fromCache(request))
  else if (request.mode === 'navigate') event.respondWith(fromNetwork(request, '/'))
  else if (readings.some((r) => r.test(url.pathname)) && !url.search) event.respondWith(fromNetwork(request, request))
})

async function fromCache(request) {
  const cache = await caches.open(kept)
  const found = await cache.match(request)
  if (found) return found
  const answer = await fetch(request)
  if (answer.ok) await cache.put(request, answer.clone())
  return answer
}

async function fromNetwork(request, name) {
  const cache = await caches.open(kept)
  try {
    const answer = await fetch(request)
    if (answer.ok) await cache.put(name, answer.clone())
    return answer
  } catch (problem) {
    const found = await cache.match(name)
    if (found) return found
    throw problem
  }
}
