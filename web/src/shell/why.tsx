// The drawer that answers: why? It shows each rule behind a clock with its inputs, its footing and what others hold.
import { useQuery } from '@tanstack/react-query'
import { createContext, lazy, Suspense, useContext, useEffect, useRef, useState, type ReactNode } from 'react'
import { Link } from 'react-router'
import { api, take, type Schemas } from '../api/client'
import { Otherwise } from './Otherwise'

const OwnLimit = lazy(() => import('./OwnLimit'))

type Asked = Schemas['Task']

const Context = createContext<((task: Asked) => void) | null>(null)

export function useWhy() {
  const ask = useContext(Context)
  if (!ask) throw new Error('no WhyProvider above')
  return ask
}

export function WhyProvider({ children }: { children: ReactNode }) {
  const [asked, setAsked] = useState<Asked | null>(null)
  return (
    <Context.Provider value={setAsked}>
      {children}
      {asked && <Drawer asked={asked} onClose={() => setAsked(null)} />}
    </Context.Provider>
  )
}

export function WhyButton({ task }: { task: Asked }) {
  const ask = useWhy()
  return (
    <button
      className="because"
      aria-label={`Why: ${task.tag}, ${task.title} ${task.part_name}`}
      onClick={() => ask(task)}
    >
      why
    </button>
  )
}

function Drawer({ asked, onClose }: { asked: Asked; onClose: () => void }) {
  const dialog = useRef<HTMLDialogElement>(null)
  useEffect(() => dialog.current?.showModal(), [])
  const { data: reasons, error } = useQuery({
    queryKey: ['why', asked.instrument_id, asked.routine, asked.part],
    queryFn: () =>
      take(
        api.GET('/api/v1/instruments/{id}/why', {
          params: { path: { id: asked.instrument_id }, query: { routine: asked.routine, part: asked.part } },
        }),
      ),
  })
  return (
    <dialog
      ref={dialog}
      className="fixed inset-y-0 right-0 left-auto m-0 h-dvh max-h-none w-full max-w-md overflow-y-auto border-l border-base-content bg-base-100 p-6 text-base-content backdrop:bg-neutral/20"
      aria-labelledby="why-title"
      onClose={onClose}
      onClick={(e) => {
        if (e.target === e.currentTarget) e.currentTarget.close()
      }}
    >
      <form method="dialog" className="float-right">
        <button className="btn btn-sm">Close</button>
      </form>
      <h1 id="why-title">Why?</h1>
      <p className="quiet mb-2">
        {asked.tag}, {asked.title}
        {asked.part_name && `: ${asked.part_name}`}
      </p>
      {error && <p role="alert">{error.message}</p>}
      {reasons?.map((reason) => (
        <Reason key={reason.rule} reason={reason} onLeave={onClose} />
      ))}
      <Suspense>
        <OwnLimit task={asked} onSaved={onClose} />
      </Suspense>
    </dialog>
  )
}

const headings: Record<string, string> = {
  'care.due': 'When it is due',
  'care.limit': 'Where the limit comes from',
  'care.timebox': 'What it is worth in the time box',
  'condition.triage': 'What decides the grade',
  'hygiene.bench': 'How long it takes',
  'strings.section-plan': 'When strings are changed',
  'reeds.latest-open': 'When reeds are opened',
  'bow.rehair-or-new': 'New hair or a new bow',
  'bow.rosin': 'How often rosin',
}

const changes: Record<string, string> = {
  '/settings/calendar': 'Change terms, breaks and concerts',
  '/settings/practices': 'Change what the school holds',
  '/settings/products': 'Change products and their contact times',
  '/strings-reeds/reeds': 'Change how reeds are broken in',
}

/** One rule behind a result: its inputs, its footing and what others hold. */
export function Reason({ reason, onLeave }: { reason: Schemas['Why']; onLeave?: () => void }) {
  return (
    <section className="border-t border-base-300 py-4">
      <h2>{headings[reason.rule] ?? reason.rule}</h2>
      <p className="my-1">{reason.statement}</p>
      <dl className="quiet grid grid-cols-[auto_1fr] gap-x-4 text-sm">
        {reason.inputs?.map((input) => (
          <div key={input.name} className="contents">
            <dt>{input.name}</dt>
            <dd className="text-base-content">{input.value}</dd>
          </div>
        ))}
        <dt>footing</dt>
        <dd className="text-base-content">
          {reason.basis.kind}
          {reason.basis.source && `: ${reason.basis.source}`}
          {(reason.basis.kind === 'common practice' || reason.basis.kind === 'from memory') && ', no published source'}
        </dd>
      </dl>
      <Otherwise held={reason.alternatives} />
      {reason.change && (
        <Link to={reason.change} className="link mt-2 inline-block text-sm" onClick={onLeave}>
          {changes[reason.change] ?? 'Change it in Settings'}
        </Link>
      )}
    </section>
  )
}
