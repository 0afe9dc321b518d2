import { useState } from 'react'
import { useWatch } from 'react-hook-form'
import { useEntry } from '../../shell/entry'
import { Field } from '../../shell/Field'
import type { Current, Ticking } from './steps'
import { running } from './words'

type Props = {
  list: Current[]
  now: number
  busy: boolean
  may: boolean
  mayOverride: boolean
  onTick: (t: Ticking) => void
}

/** Contact times and soaks that run, the nearest to its end first. The server keeps them; this only shows them. */
export function Timers({ list, now, ...rest }: Props) {
  if (list.length === 0) return null
  const left = ({ step }: Current) => (step.over_at ? (Date.parse(step.over_at) - now) / 1000 : 0)
  return (
    <section aria-label="Times that run" className="mt-4">
      <ul className="grid gap-2 sm:grid-cols-2 lg:grid-cols-3">
        {[...list]
          .sort((a, b) => left(a) - left(b))
          .map((current) => (
            <Timer key={current.item.instrument_id} current={current} left={left(current)} now={now} {...rest} />
          ))}
      </ul>
    </section>
  )
}

type TimerProps = Omit<Props, 'list'> & { current: Current; left: number }

function Timer({ current, left, now, busy, may, mayOverride, onTick }: TimerProps) {
  const { item, step } = current
  const [asking, setAsking] = useState(false)
  const { register, submit, control } = useEntry({ defaultValues: { why: '' } })
  const why = useWatch({ control, name: 'why' })
  const over = left <= 0
  const late = step.latest_at && Date.parse(step.latest_at) < now
  return (
    <li
      aria-label={`${item.tag}: ${step.name}`}
      className={`rounded-md border p-3 ${late ? 'border-error' : over ? 'border-primary' : 'border-base-300'}`}
    >
      <p className="flex items-baseline justify-between gap-2">
        <span>
          <b className="text-lg tracking-wide">{item.tag}</b> {step.name}
        </span>
        <b className={`text-2xl ${late ? 'text-error' : ''}`} role="timer">
          {over ? (late ? 'too long' : 'over') : running(left)}
        </b>
      </p>
      {step.latest_at && !late && (
        <p className="text-sm">
          {over ? 'Go on now' : 'Then go on'}, within {running((Date.parse(step.latest_at) - now) / 1000)}.
        </p>
      )}
      {late && <p className="text-sm text-error">Take it out at once and rinse it; say so if it looks dull.</p>}
      {over ? (
        <button
          className="btn btn-primary mt-2 h-12 w-full"
          aria-label={`Done: ${item.tag}, ${step.name}`}
          disabled={busy || !may}
          onClick={() => onTick({ ...current, act: 'done', override: '' })}
        >
          Done
        </button>
      ) : (
        mayOverride &&
        !asking && (
          <button className="because mt-1" onClick={() => setAsking(true)}>
            do not wait
          </button>
        )
      )}
      {asking && !over && (
        <form className="mt-2" onSubmit={submit(({ why }) => onTick({ ...current, act: 'done', override: why }))}>
          <Field label="Why it does not wait; this stands in the record under your name">
            <input className="input w-full" maxLength={300} autoFocus {...register('why')} />
          </Field>
          <button className="btn btn-error mt-2 mr-2" disabled={busy || why.trim() === ''}>
            Go on all the same
          </button>
          <button type="button" className="btn mt-2" onClick={() => setAsking(false)}>
            Wait
          </button>
        </form>
      )}
    </li>
  )
}
