import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { api, take, type Schemas } from '../../api/client'
import { refresh } from '../../api/queries'
import { useWrite } from '../../api/write'
import { KindPicker } from '../../shell/KindPicker'
import { useNotice } from '../../shell/notice'

/** Corrects what an instrument is. What that does to its care is said before. */
export function OtherKind({ file }: { file: Schemas['File'] }) {
  const { id, version } = file.instrument
  const notice = useNotice()
  const [kind, setKind] = useState('')
  const { data: turn } = useQuery({
    queryKey: ['as-kind', id, kind],
    queryFn: () => take(api.GET('/api/v1/instruments/{id}/kind', { params: { path: { id }, query: { kind } } })),
    enabled: kind !== '',
  })
  const correct = useWrite({
    send: (kind: string) =>
      take(api.PUT('/api/v1/instruments/{id}/kind', { params: { path: { id } }, body: { kind, version } })),
    onSuccess: async ({ events }) => {
      notice.show(`${file.instrument.tag} is a ${turn?.kind_name ?? 'new kind'} now.`, events)
      setKind('')
      await refresh()
    },
  })
  return (
    <details className="mt-6 max-w-2xl border-t border-base-300 pt-3">
      <summary className="cursor-pointer">It is no {file.listed.kind_name}?</summary>
      <div className="mt-3 grid gap-3 sm:grid-cols-3">
        <KindPicker label="It is a" value={kind} onChange={setKind} />
      </div>
      {turn && kind && (
        <div className="mt-3" role="status">
          {turn.refused ? (
            <p className="text-error">{turn.refused}</p>
          ) : (
            <>
              <p>
                As a <b>{turn.kind_name}</b>
                {turn.size ? `, ${turn.size}` : ''}, body: {turn.body}.
              </p>
              {turn.ends.length > 0 && (
                <p className="text-sm">Care that ends (what was done stays in the timeline): {turn.ends.join('; ')}.</p>
              )}
              {turn.begins.length > 0 && (
                <p className="text-sm">
                  Care that begins, from the day since which its care is known: {turn.begins.join('; ')}.
                </p>
              )}
              {turn.ends.length + turn.begins.length === 0 && <p className="text-sm">Its care stays as it is.</p>}
              <button
                className="btn btn-outline btn-primary mt-2"
                disabled={correct.isPending}
                onClick={() => correct.mutate(kind)}
              >
                Correct it
              </button>
            </>
          )}
        </div>
      )}
      {correct.error && (
        <p role="alert" className="mt-2 text-error">
          {correct.error.message}
        </p>
      )}
    </details>
  )
}
