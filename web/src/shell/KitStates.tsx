import type { Schemas } from '../api/client'

type Thing = Schemas['KitThing']
type State = Thing['state']

type Props = {
  things: (Thing & { went_out?: State })[]
  states: Record<string, State>
  onChange: (supply: string, state: State) => void
}

/** What belongs in the case, and how each thing is found: one tap a thing. */
export function KitStates({ things, states, onChange }: Props) {
  return (
    <ul>
      {things.map((t) => {
        const now = states[t.supply] ?? t.state
        return (
          <li key={t.supply} className="line flex flex-wrap items-center gap-x-3 gap-y-1 py-1">
            <span className="min-w-40 flex-1">
              {t.wanted > 1 && `${String(t.wanted)} × `}
              {t.name} {t.size}{' '}
              <span className="quiet text-sm">
                {t.note}
                {t.to_play && `${t.note ? ', ' : ''}nobody plays without it`}
                {t.went_out !== undefined && t.went_out !== 'there' && ` · went out ${t.went_out}`}
              </span>
            </span>
            <span role="radiogroup" aria-label={t.name} className="join">
              {t.states.map((s) => (
                <button
                  key={s}
                  type="button"
                  role="radio"
                  aria-checked={now === s}
                  aria-label={`${t.name}: ${s}`}
                  className={`btn join-item btn-sm ${now === s ? (s === 'there' ? 'btn-primary' : 'btn-neutral') : ''}`}
                  onClick={() => onChange(t.supply, s)}
                >
                  {s}
                </button>
              ))}
            </span>
          </li>
        )
      })}
    </ul>
  )
}
