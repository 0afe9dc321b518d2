import type { Schemas } from '../../api/client'
import { Caution } from '../../shell/Caution'
import type { Current, Ticking } from './steps'

type Props = { current: Current; large: boolean; crowd: number; busy: boolean; onTick: (t: Ticking) => void }

/** One step of one instrument, to be read at a sink and ticked with a wet hand. */
export function StepCard({ current, large, crowd, busy, onTick }: Props) {
  const { item, step } = current
  return (
    <article
      aria-label={`${item.tag}: ${step.name}`}
      className={`line py-3 ${large ? 'border-l-4 border-l-primary pl-4' : 'pl-5'}`}
    >
      <p className="flex flex-wrap items-baseline gap-x-3">
        <b className={`tracking-wide ${large ? 'text-2xl' : 'text-lg'}`}>{item.tag}</b>
        <span className={large ? 'font-display text-2xl' : 'text-lg'}>{step.name}</span>
        <span className="quiet">
          {item.kind_name}
          {step.station &&
            ` · ${step.station}${step.place !== undefined && crowd > 1 ? ` ${String(step.place + 1)}` : ''}`}
          {step.person !== undefined && crowd > 1 && ` · person ${String(step.person + 1)}`}
        </span>
      </p>
      {step.caution && <Caution>{step.caution}</Caution>}
      {step.gloves && (
        <p className="my-1 font-bold text-warning">
          {step.gloves === 'new' ? 'New gloves before this.' : 'Gloves off after this, and wash your hands.'}
        </p>
      )}
      <p className={large ? 'max-w-2xl text-xl' : 'max-w-2xl'}>{step.do}</p>
      {step.gate && <p className="text-sm text-warning">{step.gate}</p>}
      {step.product && (
        <p className={large ? 'text-lg' : ''}>
          With <b>{step.product}</b>
          {step.lot && `, lot ${step.lot}`}: wet for {step.contact_minutes} min.
        </p>
      )}
      {large && step.reason && <p className="quiet text-sm">{step.reason}</p>}
      <button
        className={`btn btn-primary mt-2 ${large ? 'h-14 w-full text-lg sm:w-80' : 'h-12 w-full sm:w-64'}`}
        aria-label={`${doing(step)}: ${item.tag}, ${step.name}`}
        disabled={busy}
        onClick={() => onTick({ ...current, act: step.wait_minutes > 0 ? 'begin' : 'done', override: '' })}
      >
        {doing(step)}
      </button>
    </article>
  )
}

function doing(step: Schemas['BenchStep']) {
  if (step.wait_minutes === 0) return 'Done'
  return `${step.product ? 'It is wet' : 'It stands'}: start ${String(step.wait_minutes)} min`
}
