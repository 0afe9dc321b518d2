// Keeps the program itself and what a walk along the racks needs, so that a check goes on where there is no network.
// Files with a hash in their name never change; pages and readings come from the network when it answers.
const kept = 'solfeggio-1'
const readings = [/^\/api\/v1\/(session|header|instruments|room)$/, /^\/api\/v1\/instruments\/[^/]+(\/check)?$/]

self.addEventListener('install', (event) => event.waitUntil(self.skipWaiting()))
self.addEventListener('activate', (event) => event.waitUntil(self.clients.claim()))
self.addEventListener('message', (event) => {
  if (event.data === 'keep') event.waitUntil(keepFiles())
  if (event.data === 'forget') event.waitUntil(forgetReadings())
})

// Keeps all files of the present program and drops those of an earlier one.
async function keepFiles() {
  const cache = await caches.open(kept)
  const files = (await (await fetch('/files.json')).json()).map((name) => `/${name}`)
  const has = (await cache.keys()).map((request) => new URL(request.url).pathname)
  await cache.addAll(['/', ...files.filter((name) => !has.includes(name))])
  for (const name of has) if (name.startsWith('/assets/') && !files.includes(name)) await cache.delete(name)
}

// Signing out forgets what was read.
async function forgetReadings() {
  const cache = await caches.open(kept)
  for (const request of await cache.keys())
    if (new URL(request.url).pathname.startsWith('/api/')) await cache.delete(request)
}

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
