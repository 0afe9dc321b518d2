import { useState } from 'react'
import { useWatch } from 'react-hook-form'
import { api, take, type Schemas } from '../../api/client'
import { useEntry } from '../../shell/entry'
import { Reason } from '../../shell/why'
import { money } from '../../words'
import { firstWords, useStep } from './useStep'

type Sheet = Schemas['JobView']

/** What can be done with the job now: the next step first, the ways out last. */
export function Next({ sheet }: { sheet: Sheet }) {
  const { job, steps } = sheet
  const can = (step: (typeof steps)[number]) => steps.includes(step)
  const shop = sheet.shops.find((s) => s.id === job.shop_id)
  if (!shop && job.state !== 'away')
    return (
      <section aria-label="Next" className="grid gap-3">
        <h2>Next</h2>
        {job.untold && <News sheet={sheet} />}
        <p>Choose a shop under “What is asked” and save it. Then it can be asked, or given the job.</p>
        <CallOff sheet={sheet} />
      </section>
    )
  return (
    <section aria-label="Next" className="grid gap-3">
      <h2>Next</h2>
      {job.state === 'quoted' && <Agree sheet={sheet} />}
      {can('ask') && <Ask sheet={sheet} again={job.state !== 'wanted'} />}
      {job.state === 'wanted' && <Agree sheet={sheet} />}
      {can('book') && <Book sheet={sheet} />}
      {can('send') && <Send sheet={sheet} />}
      {job.state === 'away' && <Away sheet={sheet} />}
      {(job.untold || ((job.state === 'asked' || job.state === 'away') && shop?.service)) && <News sheet={sheet} />}
      {can('call-off') && <CallOff sheet={sheet} />}
    </section>
  )
}

const at = (job: Schemas['Job']) => ({ params: { path: { id: job.id } }, body: { version: job.version } })

function Words({ of }: { of: { error: string | undefined; wrong: Record<string, string> } }) {
  return of.error ? (
    <p role="alert" className="mt-1 text-sm text-error">
      {firstWords(of)}
    </p>
  ) : null
}

function Ask({ sheet: { job, shops }, again }: { sheet: Sheet; again: boolean }) {
  const shop = shops.find((s) => s.id === job.shop_id)
  const ask = useStep(
    () => take(api.POST('/api/v1/shop/jobs/{id}/ask', at(job))),
    shop?.service ? 'Noted; the simulated shop is asked.' : 'Asked, in the simulated outbox.',
  )
  return (
    <div>
      <button className={`btn btn-sm ${again ? '' : 'btn-primary'}`} disabled={ask.busy} onClick={() => ask.take()}>
        {again ? 'Ask again' : 'Ask for a quote'}
      </button>{' '}
      <span className="quiet text-sm">
        {shop?.name}
        {shop?.service ? ' (simulated)' : ', by the simulated outbox'}
      </span>
      <Words of={ask} />
    </div>
  )
}

function Agree({ sheet: { job, row, quotes } }: { sheet: Sheet }) {
  const quoted = job.state === 'quoted'
  const agree = useStep(() => take(api.POST('/api/v1/shop/jobs/{id}/agree', at(job))), 'Agreed.')
  const refuse = useStep(() => take(api.POST('/api/v1/shop/jobs/{id}/refuse', at(job))), 'Refused.')
  return (
    <div>
      <button
        className={`btn btn-sm ${quoted ? 'btn-primary' : ''}`}
        disabled={agree.busy || quotes[0]?.ran_out}
        onClick={() => agree.take()}
      >
        {quoted ? `Agree to ${money(row.cents)}` : 'Agree without a quote'}
      </button>
      {quoted && (
        <button className="btn btn-sm ml-2" disabled={refuse.busy} onClick={() => refuse.take()}>
          Refuse
        </button>
      )}
      {!quoted && row.cents > 0 && <span className="quiet ml-2 text-sm">at about {money(row.cents)}</span>}
      <Words of={agree} />
      <Words of={refuse} />
    </div>
  )
}

/** On a trip, or fetched by the shop. */
function Book({ sheet: { job, trips } }: { sheet: Sheet }) {
  const { register, submit, control } = useEntry({
    defaultValues: { trip: job.trip_id ?? trips[0]?.key ?? '', day: job.fetched_on ?? '' },
  })
  const day = useWatch({ control, name: 'day' })
  const book = useStep(
    (by: { trip_id?: string; fetched_on?: string }) =>
      take(
        api.POST('/api/v1/shop/jobs/{id}/book', {
          params: { path: { id: job.id } },
          body: { version: job.version, ...by },
        }),
      ),
    'Noted.',
  )
  const unbook = useStep(() => take(api.POST('/api/v1/shop/jobs/{id}/unbook', at(job))), 'Taken off.')
  return (
    <form className="grid gap-2" onSubmit={(e) => e.preventDefault()}>
      {trips.length > 0 ? (
        <p className="flex items-center gap-2">
          <select className="select select-sm min-w-0 flex-1" aria-label="Trip" {...register('trip')}>
            {trips.map((t) => (
              <option key={t.key} value={t.key}>
                {t.name}
              </option>
            ))}
          </select>
          <button
            className={`btn btn-sm ${job.state === 'agreed' ? 'btn-primary' : ''}`}
            disabled={book.busy}
            onClick={submit((v) => book.take({ trip_id: v.trip }))}
          >
            Put it on the trip
          </button>
        </p>
      ) : (
        <p className="quiet text-sm">No trip with room goes there on a day on which the shop is open.</p>
      )}
      <p className="flex items-center gap-2">
        <input type="date" className="input input-sm flex-1" aria-label="The shop fetches it on" {...register('day')} />
        <button
          className="btn btn-sm"
          disabled={book.busy || day === ''}
          onClick={submit((v) => book.take({ fetched_on: v.day }))}
        >
          The shop fetches it
        </button>
      </p>
      {job.state === 'booked' && (
        <p>
          <button type="button" className="btn btn-sm" disabled={unbook.busy} onClick={() => unbook.take()}>
            Take it off
          </button>
        </p>
      )}
      <Words of={book} />
      <Words of={unbook} />
    </form>
  )
}

/** It leaves today; its player is offered a loaner. */
function Send({ sheet }: { sheet: Sheet }) {
  const { job, loaner, expected, instrument } = sheet
  const [lend, setLend] = useState(true)
  const [why, setWhy] = useState(false)
  const send = useStep(
    () =>
      take(
        api.POST('/api/v1/shop/jobs/{id}/send', {
          params: { path: { id: job.id } },
          body: { version: job.version, ...(loaner && lend ? { loaner_id: loaner.key } : {}) },
        }),
      ),
    loaner && lend ? `It is on its way. ${instrument.holder} plays ${loaner.name} meanwhile.` : 'It is on its way.',
  )
  return (
    <div className="border-t border-base-300 pt-3">
      {instrument.played &&
        (loaner ? (
          <label className="mb-2 flex items-center gap-2 text-sm">
            <input
              type="checkbox"
              className="checkbox checkbox-sm"
              checked={lend}
              onChange={(e) => setLend(e.currentTarget.checked)}
            />
            {instrument.holder || 'Whoever plays it'} has <b>{loaner.name}</b> meanwhile
          </label>
        ) : (
          <p className="mb-2 text-sm text-warning">
            No other {instrument.kind_name} of this size is free: {instrument.holder || 'whoever plays it'} has none
            meanwhile.
          </p>
        ))}
      <button
        className={`btn btn-sm ${job.state === 'booked' ? 'btn-primary' : ''}`}
        disabled={send.busy}
        onClick={() => send.take()}
      >
        It leaves today
      </button>
      {expected && (
        <span className="quiet ml-2 text-sm">
          away for about {expected.days} days{' '}
          <button className="because" aria-expanded={why} aria-label="Why so long" onClick={() => setWhy(!why)}>
            why
          </button>
        </span>
      )}
      {why && expected && <Reason reason={expected.why} />}
      <Words of={send} />
    </div>
  )
}

function Away({ sheet: { job, loaned } }: { sheet: Sheet }) {
  const back = useStep(
    () => take(api.POST('/api/v1/shop/jobs/{id}/fetched', at(job))),
    'It is back. Look it over and check it in.',
  )
  return (
    <div>
      {loaned && <p className="mb-2 text-sm">{loaned} was lent in its place.</p>}
      <button className="btn btn-primary btn-sm" disabled={back.busy} onClick={() => back.take()}>
        It is back
      </button>
      <Words of={back} />
    </div>
  )
}

function News({ sheet: { job } }: { sheet: Sheet }) {
  const news = useStep(
    () => take(api.POST('/api/v1/shop/jobs/{id}/news', at(job))),
    job.untold ? 'The simulated shop has heard of it.' : 'The simulated shop was asked.',
  )
  return (
    <div>
      <button className="btn btn-sm" disabled={news.busy} onClick={() => news.take()}>
        {job.untold ? 'Tell the simulated shop again' : 'Ask the simulated shop for news'}
      </button>
      <Words of={news} />
    </div>
  )
}

function CallOff({ sheet: { job } }: { sheet: Sheet }) {
  const [open, setOpen] = useState(false)
  const { register, submit } = useEntry({ defaultValues: { how: '' } })
  const off = useStep(
    (how: string) =>
      take(
        api.POST('/api/v1/shop/jobs/{id}/call-off', {
          params: { path: { id: job.id } },
          body: { version: job.version, ...(how ? { how } : {}) },
        }),
      ),
    'Called off.',
  )
  if (!open)
    return (
      <p>
        <button className="because" onClick={() => setOpen(true)}>
          call it off
        </button>
      </p>
    )
  return (
    <form
      aria-label="Call it off"
      className="flex flex-wrap items-center gap-2"
      onSubmit={submit((v) => off.take(v.how.trim()))}
    >
      <input
        className="input input-sm min-w-0 flex-1"
        aria-label="Why"
        placeholder="why, if you like"
        {...register('how')}
      />
      <button className="btn btn-sm" disabled={off.busy}>
        Call it off
      </button>
      <Words of={off} />
    </form>
  )
}
