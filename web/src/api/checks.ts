// Inspections on their way. What was answered is kept in the browser at every tap, before anything else happens, and
// photographs too, so that a closed page or a missing network loses nothing; a finished one is sent as soon as the server
// answers, once, under its own id.
import { createStore, delMany, get, set, type UseStore } from 'idb-keyval'
import { useEffect, useSyncExternalStore } from 'react'
import { api, onceKey, Problem, take, type Schemas } from './client'
import { sendPhoto } from './photos'
import { refresh } from './queries'
import { newID } from './id'

export type Answer = {
  right: boolean
  findings: { code: string; note: string; photos: string[]; avoidable: boolean }[]
  measured: string
}

export type Draft = {
  id: string
  instrument: string
  tag: string
  edition: string
  began_at: string
  last_seen: string | null
  despite: boolean
  at: number
  answers: Record<string, Answer>
  /** Names the sending; a new one when the contents have changed since they were refused. */
  sending: string
  finished: boolean
  /** Why the server would not take it. */
  refused?: { message: string; fields: Record<string, string> } | undefined
  /** What came of it; then it is kept by the server and no longer here. */
  result?: Schemas['Judged']
}

// Answers are small and must be kept at once; photographs are large and wait for their store.
const drawer = 'solfeggio-checks/'
let store: UseStore | undefined
const pictures = () => (store ??= createStore('solfeggio', 'checks'))

let drafts: ReadonlyMap<string, Draft> = new Map(
  Object.keys(localStorage)
    .filter((key) => key.startsWith(drawer))
    .flatMap((key) => {
      try {
        const draft = JSON.parse(localStorage.getItem(key) ?? '') as Draft
        return [[draft.instrument, draft] as const]
      } catch {
        return []
      }
    }),
)
const listeners = new Set<() => void>()

function change(next: ReadonlyMap<string, Draft>) {
  drafts = next
  for (const l of listeners) l()
}

const subscribe = (l: () => void) => {
  listeners.add(l)
  return () => listeners.delete(l)
}

/** The drafts by instrument. */
export const useDrafts = () => useSyncExternalStore(subscribe, () => drafts)

export const newAnswer = (): Answer => ({ right: false, findings: [], measured: '' })

export function begin(sheet: Schemas['Sheet']): Draft {
  return {
    id: newID(),
    instrument: sheet.instrument.id,
    tag: sheet.instrument.tag,
    edition: sheet.edition,
    began_at: new Date().toISOString(),
    last_seen: sheet.last?.id ?? null,
    despite: false,
    at: 0,
    answers: {},
    sending: newID(),
    finished: false,
  }
}

export function keep(draft: Draft) {
  localStorage.setItem(drawer + draft.instrument, JSON.stringify(draft))
  change(new Map(drafts).set(draft.instrument, draft))
}

export function drop(draft: Draft) {
  localStorage.removeItem(drawer + draft.instrument)
  const next = new Map(drafts)
  next.delete(draft.instrument)
  change(next)
  void delMany(photosOf(draft), pictures())
}

const photosOf = (draft: Draft) => Object.values(draft.answers).flatMap((a) => a.findings.flatMap((f) => f.photos))

export async function keepPhoto(file: Blob) {
  const id = newID()
  await set(id, file, pictures())
  return id
}

async function sendPhotos(draft: Draft) {
  for (const id of photosOf(draft)) {
    const picture = await get<Blob>(id, pictures())
    if (picture) await sendPhoto(draft.instrument, id, picture)
  }
}

const bodyOf = (d: Draft): Schemas['Walk'] => ({
  id: d.id,
  edition: d.edition,
  began_at: d.began_at,
  ...(d.last_seen ? { last_seen: d.last_seen } : {}),
  ...(d.despite ? { despite: true } : {}),
  answers: Object.entries(d.answers).map(([point, a]) => ({
    point,
    findings: a.findings,
    ...(a.measured.trim() ? { measured: a.measured.trim() } : {}),
  })),
})

const underWay = new Set<string>()

/** Sends a finished inspection. False when the server cannot be reached now. */
async function send(draft: Draft): Promise<boolean> {
  if (underWay.has(draft.id)) return true
  underWay.add(draft.id)
  try {
    await sendPhotos(draft)
    const result = await take(
      api.POST('/api/v1/instruments/{id}/inspections', {
        params: { path: { id: draft.instrument }, header: onceKey(draft.sending) },
        body: bodyOf(draft),
      }),
    )
    drop(draft)
    change(new Map(drafts).set(draft.instrument, { ...draft, result }))
    await refresh()
    return true
  } catch (problem) {
    if (problem instanceof Problem && problem.outcome !== 'refused') return false
    const { message, fields } = problem instanceof Problem ? problem : { message: String(problem), fields: {} }
    keep({ ...draft, refused: { message, fields } })
    return true
  } finally {
    underWay.delete(draft.id)
  }
}

const waiting = (d: Draft) => d.finished && !d.refused && !d.result

/** Sends what waits, at once and then whenever the network may be back. */
export function useSendChecks(sent: (draft: Draft) => void) {
  const drafts = useDrafts()
  const some = [...drafts.values()].some(waiting)
  useEffect(() => {
    if (!some) return
    const attempt = async () => {
      for (const d of [...currentDrafts().values()].filter(waiting)) {
        if (!(await send(d))) return
        const now = currentDrafts().get(d.instrument)
        if (now?.result) sent(now)
      }
    }
    void attempt()
    const timer = setInterval(() => void attempt(), 4000)
    const online = () => void attempt()
    window.addEventListener('online', online)
    return () => {
      clearInterval(timer)
      window.removeEventListener('online', online)
    }
  }, [some, sent])
}

const currentDrafts = () => drafts

/** How many finished inspections wait for the network. */
export const useWaiting = () => [...useDrafts().values()].filter(waiting).length
