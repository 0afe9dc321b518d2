import { useMutation } from '@tanstack/react-query'
import { api, onceKey, queryClient, take, type Schemas } from '../../api/client'
import { useMay } from '../../api/queries'
import { useNotice } from '../../shell/notice'

type Props = { run: Schemas['BenchRun']; me: number | null; onMe: (me: number | null) => void }

/** Whose phone this is, and how many are at the bench. A change plans what is left afresh. */
export function Hand({ run, me, onMe }: Props) {
  const may = useMay('finish care')
  const notice = useNotice()
  const replan = useMutation({
    mutationFn: (people: number) =>
      take(
        api.POST('/api/v1/bench/runs/{id}/plan', {
          params: { path: { id: run.id }, header: onceKey() },
          body: { people, stations: {} },
        }),
      ),
    onSuccess: (result) => {
      queryClient.setQueryData(['bench-run', run.id], result.run)
      if (me !== null && me >= result.run.people) onMe(null)
      notice.show('Planned afresh from where it stands.')
    },
    onError: (problem) => notice.show(problem.message),
  })
  return (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-1 md:ml-auto">
      {run.people > 1 && (
        <select
          className="select select-sm w-36"
          aria-label="I am"
          value={me ?? ''}
          onChange={(e) => onMe(e.currentTarget.value === '' ? null : Number(e.currentTarget.value))}
        >
          <option value="">everybody</option>
          {Array.from({ length: run.people }, (_, n) => (
            <option key={n} value={n}>
              person {n + 1}
            </option>
          ))}
        </select>
      )}
      {may && (
        <>
          <label className="flex items-center gap-1.5">
            <input
              type="number"
              className="input input-sm w-14 text-right"
              aria-label="people at the bench"
              min={1}
              max={50}
              value={run.people}
              disabled={replan.isPending}
              onChange={(e) => {
                const people = e.currentTarget.valueAsNumber
                if (people >= 1 && people <= 50) replan.mutate(people)
              }}
            />
            people at the bench
          </label>
          <button className="because" disabled={replan.isPending} onClick={() => replan.mutate(run.people)}>
            plan afresh
          </button>
        </>
      )}
    </div>
  )
}
