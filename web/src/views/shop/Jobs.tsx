import { useState } from 'react'
import { Link } from 'react-router'
import type { Schemas } from '../../api/client'
import { useShop } from '../../api/queries'
import { Mark } from '../../marks/Mark'
import { count, money } from '../../words'
import { Suggested } from './Suggested'

/** Every open job, those first that ask for something; and what has no job yet. */
export function Jobs() {
  const { data, error } = useShop()
  const [ended, setEnded] = useState(false)
  if (error && !data) return <p role="alert">{error.message}</p>
  if (!data) return <p className="quiet">Ringing the counter bell…</p>
  return (
    <div className="grid gap-x-10 gap-y-6 lg:grid-cols-[1fr_340px]">
      <section aria-label="Open jobs">
        <p>{headline(data)}</p>
        {data.jobs.length === 0 && (
          <p className="quiet mt-2">
            A job begins with what was found on an instrument, with a yearly check that is due, or in an instrument’s
            file.
          </p>
        )}
        <ul className="mt-2">
          {data.jobs.map((j) => (
            <Row key={j.id} job={j} />
          ))}
        </ul>
        {data.ended.length > 0 && (
          <>
            <button className="because mt-4" aria-expanded={ended} onClick={() => setEnded(!ended)}>
              {ended ? 'Hide' : 'Show'} {count(data.ended.length, 'ended job')}
            </button>
            {ended && (
              <ul className="mt-1" aria-label="Ended jobs">
                {data.ended.map((j) => (
                  <Row key={j.id} job={j} />
                ))}
              </ul>
            )}
          </>
        )}
      </section>
      <Suggested list={data.suggested} shops={data.shops.length} />
    </div>
  )
}

function headline({ jobs }: Schemas['Board']) {
  const of = (...states: string[]) => jobs.filter((j) => states.includes(j.state)).length
  const parts = [
    of('away') > 0 && `${String(of('away'))} at the shop`,
    of('booked') > 0 && `${String(of('booked'))} booked to leave`,
    of('quoted') > 0 && `${count(of('quoted'), 'quote')} to decide on`,
    of('back') > 0 && `${String(of('back'))} to check in`,
    of('wanted', 'asked', 'agreed') > 0 && `${String(of('wanted', 'asked', 'agreed'))} in preparation`,
  ].filter(Boolean)
  return parts.length === 0 ? 'Nothing is at a shop or booked to go there.' : `${parts.join(', ')}.`
}

function Row({ job: j }: { job: Schemas['JobRow'] }) {
  return (
    <li className="line">
      <Link
        to={`/shop/jobs/${j.id}`}
        className="grid grid-cols-[26px_66px_1fr_auto] items-center gap-x-3 py-1.5 hover:bg-base-200 sm:grid-cols-[26px_66px_1fr_190px_84px]"
      >
        <Mark name={j.mark} />
        <b className="tracking-wide">{j.tag}</b>
        <span className="min-w-0">
          <span className="block truncate">{j.works.join(', ')}</span>
          <span className="quiet block truncate text-sm">
            {j.kind_name}
            {j.holder && `, ${j.holder}`}
            {j.shop && ` · ${j.shop}`}
          </span>
        </span>
        <span className="col-span-2 col-start-3 row-start-2 text-sm sm:col-span-1 sm:col-start-auto sm:row-start-auto">
          <b>{j.state_words}</b>
          {j.says && <span className={`block ${j.alert ? 'text-error' : 'quiet'}`}>{j.says}</span>}
        </span>
        <span className="text-right">{j.cents > 0 && money(j.cents)}</span>
      </Link>
    </li>
  )
}
