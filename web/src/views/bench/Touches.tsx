import type { Schemas } from '../../api/client'

type Props = { list: Schemas['Touch'][]; onPrefer: (surface: string, product: string) => void }

/** Which product comes to which surface, what others could, and why the rest may not. */
export function Touches({ list, onPrefer }: Props) {
  if (list.length === 0) return null
  return (
    <section aria-label="What touches what">
      <h2>What touches what</h2>
      <ul>
        {list.map((t) => (
          <li key={t.surface} className="line py-1.5">
            <div className="flex flex-wrap items-center gap-x-3">
              <span className="w-56">{t.name}</span>
              {t.choices.length > 1 ? (
                <select
                  className="select select-xs w-48"
                  aria-label={`Product for the ${t.name}`}
                  value={t.product}
                  onChange={(e) => onPrefer(t.surface, e.currentTarget.value)}
                >
                  {t.choices.map((c) => (
                    <option key={c.key} value={c.key}>
                      {c.name}
                    </option>
                  ))}
                </select>
              ) : null}
              <b>{t.used.join('; ')}</b>
            </div>
            {t.refused.length > 0 && (
              <details className="text-sm">
                <summary className="because inline-block">why not another</summary>
                {t.refused.map((r) => (
                  <p key={r.product + r.because} className="quiet">
                    {r.product}: {r.because}
                  </p>
                ))}
              </details>
            )}
          </li>
        ))}
      </ul>
    </section>
  )
}
