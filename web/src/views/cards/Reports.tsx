import { useState } from 'react'
import { Link } from 'react-router'
import { api, take, type Schemas } from '../../api/client'
import { refresh, useMay } from '../../api/queries'
import { useWrite } from '../../api/write'
import { useEntry } from '../../shell/entry'
import { useNotice } from '../../shell/notice'
import { moment } from '../../words'
import { useReports } from './queries'

type Row = Schemas['ReportRow']

export const plays = { yes: 'can play', badly: 'can play, but badly', no: 'cannot play' } as const

/** What players reported on their cards and is not settled. */
export function Reports() {
  const { data: list } = useReports()
  if (!list) return <p className="quiet">Reading the reports…</p>
  if (list.length === 0)
    return (
      <p>
        Nothing is reported. A player scans the card in the case and says what is wrong; it stands on Today until
        somebody has looked at it, and here until it is settled.
      </p>
    )
  return <ReportList list={list} />
}

export function ReportList({ list }: { list: Row[] }) {
  return (
    <ul>
      {list.map((r) => (
        <Report key={r.id} report={r} />
      ))}
    </ul>
  )
}

function Report({ report: r }: { report: Row }) {
  const may = useMay('inspect')
  const notice = useNotice()
  const [answering, setAnswering] = useState(false)
  const { register, submit } = useEntry({ defaultValues: { answer: '' } })
  const settle = useWrite({
    send: (body: Schemas['Settling']) =>
      take(api.POST('/api/v1/reports/{id}', { params: { path: { id: r.id } }, body })),
    onSuccess: async (out, body) => {
      notice.show(body.finding ? `${r.tag}: it is a finding now.` : `${r.tag}: the card says your answer.`, out.events)
      await refresh()
    },
    onError: (problem) => notice.show(problem.message),
  })
  return (
    <li className="line py-2">
      <div className="flex flex-wrap items-baseline gap-x-3">
        <Link to={`/instruments/${r.instrument_id}`} className="w-14 font-bold tracking-wide">
          {r.tag}
        </Link>
        <span className="min-w-0 flex-1">
          {r.says} <span className="quiet text-sm">{r.kind_name}</span>
        </span>
        <span className={r.plays === 'no' ? 'font-bold text-error' : 'quiet'}>{plays[r.plays]}</span>
      </div>
      <p className="quiet text-sm">
        Reported {moment(r.reported_at)}
        {r.state === 'seen' && r.settled_at && `, seen ${moment(r.settled_at)}`}
        {r.said > 1 && `, said ${String(r.said)} times`}. The card said: “{r.told}”
      </p>
      {r.photo_id && (
        <a href={`/api/v1/photos/${r.photo_id}`} target="_blank" rel="noreferrer">
          <img
            src={`/api/v1/photos/${r.photo_id}?thumbnail=true`}
            alt={`Photograph with the report of ${r.tag}`}
            className="mt-1 h-20"
          />
        </a>
      )}
      {may && (
        <div className="mt-1 flex flex-wrap items-center gap-2">
          <select
            className="select select-sm w-56"
            aria-label={`What ${r.tag} has`}
            value=""
            disabled={settle.isPending}
            onChange={(e) => settle.mutate({ finding: e.currentTarget.value })}
          >
            <option value="" disabled>
              It is…
            </option>
            {r.may.map((f) => (
              <option key={f.key} value={f.key}>
                {f.name}
              </option>
            ))}
          </select>
          <Link className="btn btn-sm" to={`/instruments/${r.instrument_id}/diagnose?symptom=${r.symptom}`}>
            Find out
          </Link>
          {answering ? (
            <form
              className="flex min-w-0 flex-1 basis-full flex-wrap gap-2 sm:basis-0"
              onSubmit={submit((v) => settle.mutate(v))}
            >
              <input
                className="input input-sm min-w-40 flex-1"
                aria-label={`Answer for ${r.tag}`}
                placeholder="All is well: play on."
                maxLength={300}
                autoFocus
                {...register('answer')}
              />
              <button className="btn btn-sm btn-primary" disabled={settle.isPending}>
                Answer
              </button>
            </form>
          ) : (
            <button className="btn btn-sm" onClick={() => setAnswering(true)}>
              Answer…
            </button>
          )}
        </div>
      )}
    </li>
  )
}
