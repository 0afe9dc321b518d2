import { Check } from 'lucide-react'
import { Link } from 'react-router'
import { api, take, type Schemas } from '../../api/client'
import { refresh, useFirstSteps, useMay } from '../../api/queries'
import { useWrite } from '../../api/write'

type Step = Schemas['FirstStep']

/** What a new school can enter, unfolded as long as nothing else is to be done. It stays until all is done or put aside; who may not change
 * settings never sees it. */
export function FirstSteps({ fresh = false, idle = false }: { fresh?: boolean; idle?: boolean }) {
  const may = useMay('change settings')
  const { data: steps } = useFirstSteps()
  const left = steps?.filter((s) => s.state === 'open').length ?? 0
  if (!may || !steps || left === 0)
    return fresh ? <p>There is no instrument yet. A director or an assistant brings them in.</p> : null
  if (fresh)
    return (
      <section className="max-w-2xl">
        <h1>Welcome. First steps</h1>
        <p className="mt-2">
          Each is done once and none is a must. With instruments, terms and rehearsals this page says every day what is
          due and what to do first.
        </p>
        <Steps steps={steps} />
      </section>
    )
  return (
    <details className="mb-6 border-b border-base-300 pb-3" open={idle}>
      <summary className="cursor-pointer">
        <b>First steps</b> <span className="quiet">{left} left</span>
      </summary>
      <Steps steps={steps} />
    </details>
  )
}

function Steps({ steps }: { steps: Step[] }) {
  const aside = useWrite({
    send: (body: Schemas['Aside']) => take(api.POST('/api/v1/first-steps', { body })),
    onSuccess: refresh,
  })
  return (
    <ol className="mt-3">
      {steps.map((s) => (
        <li key={s.key} className="line grid grid-cols-[24px_1fr_auto] items-baseline gap-x-2 py-2">
          <span className="self-start pt-1">
            {s.state === 'done' && <Check size={17} className="text-success" aria-label="done" />}
          </span>
          <span className={s.state === 'open' ? '' : 'quiet'}>
            {s.state === 'aside' ? (
              s.title
            ) : (
              <Link className="link" to={s.path}>
                {s.title}
              </Link>
            )}
            <span className="quiet block text-sm">{s.for}</span>
          </span>
          {s.state !== 'done' && (
            <button
              className="because"
              aria-label={s.state === 'open' ? `Do without: ${s.title}` : `Take up again: ${s.title}`}
              disabled={aside.isPending}
              onClick={() => aside.mutate({ key: s.key, aside: s.state === 'open' })}
            >
              {s.state === 'open' ? 'not for us' : 'after all'}
            </button>
          )}
        </li>
      ))}
    </ol>
  )
}
