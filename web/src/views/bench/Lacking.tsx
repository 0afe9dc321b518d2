import { Link } from 'react-router'
import type { Schemas } from '../../api/client'

type Item = Schemas['PlannedItem']

/** Everything that the school has no product for, each surface once, with the instruments that wait for it and what would do. */
export function Lacking({ items }: { items: Item[] }) {
  const surfaces = new Map<string, { lack: Item['lacks'][number]; tags: string[]; wouldDo: Set<string> }>()
  for (const i of items)
    for (const lack of i.lacks) {
      const one = surfaces.get(lack.surface) ?? { lack, tags: [], wouldDo: new Set<string>() }
      surfaces.set(lack.surface, one)
      one.tags.push(i.tag)
      one.wouldDo.add(lack.would_do)
    }
  if (surfaces.size === 0) return null
  const waiting = new Set([...surfaces.values()].flatMap((s) => s.tags))
  return (
    <section aria-label="Missing" className="mt-3 border-l-3 border-error pl-3">
      <p>
        <b>{[...waiting].join(', ')} cannot be done now.</b> There is no product for:
      </p>
      <ul className="mt-1">
        {[...surfaces.values()].map(({ lack, tags, wouldDo }) => (
          <li key={lack.surface} className="line py-1.5">
            <b>the {lack.name}</b>{' '}
            {tags.length < waiting.size && <span className="quiet text-sm">{tags.join(', ')}</span>}
            {lack.refused.map((r) => (
              <span key={r.product} className="block text-sm">
                {r.product}: {r.because}
              </span>
            ))}
            {[...wouldDo].filter(Boolean).map((groups) => (
              <span key={groups} className="quiet block text-sm">
                would do, where the label names the {lack.name}: {groups}
              </span>
            ))}
          </li>
        ))}
      </ul>
      <Link className="link" to="/settings/products">
        Enter what stands in the cupboard
      </Link>
    </section>
  )
}
