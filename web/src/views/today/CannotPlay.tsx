import { useState } from 'react'
import { Link } from 'react-router'
import { api, take, type Schemas } from '../../api/client'
import { refresh, useMay } from '../../api/queries'
import { useWrite } from '../../api/write'
import { Mark } from '../../marks/Mark'
import { useKeys } from '../../shell/keys'
import { useNotice } from '../../shell/notice'
import { weekdayOf } from '../../words'
import { headline } from './headline'

type Blocked = Schemas['Blocked']

/** Who cannot play next time, why, and the quick way out. */
export function CannotPlay({ list, said }: { list: Blocked[]; said: number }) {
  const may = useMay('change instruments')
  const mayFill = useMay('finish care')
  const notice = useNotice()
  const lend = useWrite({
    send: ({ blocked, loaner }: { blocked: Blocked; loaner: Schemas['Loaner'] }) =>
      take(
        api.POST('/api/v1/instruments/{id}/lend', {
          params: { path: { id: blocked.instrument_id } },
          body: { loaner_id: loaner.instrument_id },
        }),
      ),
    onSuccess: async (result, { blocked, loaner }) => {
      notice.show(`${loaner.tag} is lent for ${blocked.tag}.`, result.events)
      await refresh()
    },
    onError: (problem) => notice.show(problem.message),
  })
  const fill = useWrite({
    send: (b: Blocked) => take(api.POST('/api/v1/kits/refill', { body: { things: b.lacks } })),
    onSuccess: async (result, b) => {
      const short = result.short.length > 0 ? ' By the books it was not in stock: count it.' : ''
      notice.show(`${b.tag} has what it lacked.${short}`, result.events)
      await refresh()
    },
    onError: (problem) => notice.show(problem.message),
  })
  const [armed, setArmed] = useState<string>() // whose loaner the next l lends
  const first = list.find((b) => b.loaner)
  useKeys({
    l: () => {
      if (!may || !first?.loaner || lend.isPending) return false
      if (armed === first.instrument_id) lend.mutate({ blocked: first, loaner: first.loaner })
      setArmed(armed === first.instrument_id ? undefined : first.instrument_id)
    },
    Escape: () => {
      if (!armed) return false
      setArmed(undefined)
    },
  })
  if (list.length === 0 && said === 0) return null
  return (
    <section className="mb-5" aria-labelledby="cannot-play">
      <h1 id="cannot-play">{headline(list, said)}</h1>
      <ul className="mt-1">
        {list.map((b) => (
          <li
            key={b.instrument_id}
            className="line grid grid-cols-[22px_60px_1fr] items-center gap-x-2 gap-y-1 py-1.5 sm:grid-cols-[22px_60px_1fr_auto]"
          >
            <Mark name={b.lacks.length > 0 ? 'player' : 'stopped'} />
            <Link to={`/instruments/${b.instrument_id}`} className="font-bold tracking-wide">
              {b.tag}
            </Link>
            <span className="min-w-0">
              <span className="first-letter:uppercase inline-block">{b.because}</span>
              <span className="quiet block text-sm">
                {b.holder && <b className="text-base-content">{b.holder}, </b>}
                {b.kind_name}
                {b.next && `, ${b.next.ensemble} ${weekdayOf(b.next.on)} ${b.next.at}`}
              </span>
              {b.first_aid[0] && <span className="block text-sm">First: {b.first_aid[0]}</span>}
            </span>
            <span className="col-span-full flex flex-wrap justify-end gap-1.5 sm:col-span-1">
              {may && b.loaner && (
                <button
                  className="btn btn-primary btn-sm"
                  disabled={lend.isPending}
                  onClick={() => b.loaner && lend.mutate({ blocked: b, loaner: b.loaner })}
                >
                  Lend {b.loaner.tag}
                  {armed === b.instrument_id && ': press l again'}
                </button>
              )}
              {mayFill && b.lacks.length > 0 && (
                <button className="btn btn-primary btn-sm" disabled={fill.isPending} onClick={() => fill.mutate(b)}>
                  Give from stock
                </button>
              )}
              <Link className="btn btn-outline btn-primary btn-sm" to={`/instruments/${b.instrument_id}`}>
                Open
              </Link>
            </span>
          </li>
        ))}
      </ul>
    </section>
  )
}
