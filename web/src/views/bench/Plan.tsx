import { useState, type ReactNode } from 'react'
import type { Schemas } from '../../api/client'
import { Reason } from '../../shell/why'
import { clockTime, count } from '../../words'
import { Bars } from './Bars'
import { Cautions } from './Cautions'
import { Lacking } from './Lacking'
import { Needs } from './Needs'
import { Touches } from './Touches'
import { stretch } from './words'

type Props = {
  plan: Schemas['BenchPlan']
  begin: ReactNode
  onPrefer: (surface: string, product: string) => void
}

/** How a batch would go: until when, with what caution, who does what when, and what it takes. */
export function Plan({ plan, begin, onPrefer }: Props) {
  const [why, setWhy] = useState(false)
  const cannot = plan.items.filter((i) => i.cannot)
  const done = plan.items.filter((i) => !i.cannot)
  const otherwise = done.filter((i) => i.gates.length > 0 || i.rest_hours > 0 || i.stays_held)
  return (
    <>
      {done.length > 0 && (
        <div className="mt-4 flex flex-wrap items-center gap-x-6 gap-y-2">
          <p>
            <b className="font-display text-2xl">{stretch(plan.minutes)}</b> for {count(done.length, 'instrument')},
            over at {clockTime(plan.over_at)}.{' '}
            <button className="because" aria-expanded={why} onClick={() => setWhy(!why)}>
              why so long
            </button>
          </p>
          {plan.by_the_bell && (
            <p>
              <b>
                {plan.by_the_bell.length} of {done.length}
              </b>{' '}
              before the bell
              {plan.by_the_bell.length > 0 &&
                plan.by_the_bell.length < done.length &&
                `: ${plan.by_the_bell.join(', ')}`}
            </p>
          )}
          <span className="ml-auto">{begin}</span>
        </div>
      )}
      {why && <Reason reason={plan.why} />}
      <Lacking items={plan.items} />
      {cannot
        .filter((i) => i.lacks.length === 0)
        .map((i) => (
          <p key={i.instrument_id} className="mt-2 border-l-3 border-error pl-3">
            <b>{i.tag} cannot be done now.</b> {i.cannot}
          </p>
        ))}
      {plan.bars.length > 0 && <Bars plan={plan} />}
      <div className="mt-4">
        <Cautions of={plan} />
      </div>
      <div className="mt-4 grid grid-cols-[minmax(0,1fr)] gap-6">
        <Touches list={plan.touches} onPrefer={onPrefer} />
        <Needs plan={plan} />
        {otherwise.length > 0 && (
          <section aria-label="Otherwise">
            <h2>What is done otherwise here</h2>
            <ul>
              {otherwise.map((i) => (
                <li key={i.instrument_id} className="line py-1.5">
                  <b className="tracking-wide">{i.tag}</b> {i.kind_name}
                  {i.rest_hours > 0 && `. Lies ${String(i.rest_hours)} h afterwards.`}
                  {i.stays_held && `. ${i.stays_held}`}
                  {i.gates.map((g) => (
                    <span key={g} className="quiet block text-sm">
                      {g}
                    </span>
                  ))}
                </li>
              ))}
            </ul>
          </section>
        )}
      </div>
    </>
  )
}
