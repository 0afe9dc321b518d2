import { TriangleAlert } from 'lucide-react'
import type { Schemas } from '../../api/client'
import { Otherwise } from '../../shell/Otherwise'
import { count } from '../../words'

/** How this kind is cared for, from every playing to every year. Cautions stand before the steps. */
export function Routines({ routines, open }: { routines: Schemas['Routine'][]; open: string | null }) {
  return (
    <section aria-label="Routines">
      {routines.map((r) => (
        <details key={r.key} className="line py-2" open={r.key === open}>
          <summary className="cursor-pointer">
            <b>{r.title}</b>{' '}
            <span className="quiet text-sm">
              {r.rhythm}, {r.who}, {count(r.minutes, 'minute')}
            </span>
          </summary>
          <div className="mt-2 pl-4">
            {r.cautions?.map((c) => (
              <p key={c} className="mb-2 flex gap-2 border-l-3 border-error pl-2 font-bold">
                <TriangleAlert size={18} className="mt-0.5 shrink-0 text-error" aria-label="Caution" /> {c}
              </p>
            ))}
            {r.tools.length > 0 && <p className="quiet text-sm">You need: {r.tools.join(', ')}.</p>}
            <ol className="mt-1 list-decimal space-y-1 pl-5">
              {r.steps.map((s) => (
                <li key={s.do}>
                  {s.do} {s.reason && <span className="quiet text-sm">{s.reason}</span>}
                </li>
              ))}
            </ol>
            <Otherwise held={r.held_otherwise} />
            <p className="quiet mt-2 text-sm">
              Footing: {r.basis}
              {r.basis !== 'standard' && ', no published source'}. Local rules and a trained technician decide over this
              page.
            </p>
          </div>
        </details>
      ))}
    </section>
  )
}
