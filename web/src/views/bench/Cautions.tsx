import { TriangleAlert } from 'lucide-react'
import type { Schemas } from '../../api/client'
import { SafetySheet } from './SafetySheet'

type Props = { of: Pick<Schemas['BenchRun'], 'cautions' | 'handling'> }

/** What is read before anything is begun: what all keep first, then what is special, then the labels of what is used. */
export function Cautions({ of }: Props) {
  const about = [...new Set(of.cautions.map((c) => c.of.join(', ')))]
  return (
    <section aria-label="Cautions" className="flex gap-2 border-l-3 border-error pl-2">
      <TriangleAlert size={20} className="mt-0.5 shrink-0 text-error" aria-label="Caution" />
      <div className="grid gap-1.5">
        {about.map((tags) => (
          <p key={tags} className={tags ? '' : 'font-bold'}>
            {tags && <b>{tags}: </b>}
            {of.cautions
              .filter((c) => c.of.join(', ') === tags)
              .map((c) => c.text)
              .join(' ')}
          </p>
        ))}
        {of.handling.map((h) => (
          <p key={h.product_id}>
            <b>{h.product}:</b> {h.hazards && `${h.hazards}. `}
            <SafetySheet of={h} />
          </p>
        ))}
      </div>
    </section>
  )
}
