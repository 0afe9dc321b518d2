import { TriangleAlert } from 'lucide-react'
import { useState } from 'react'
import type { Schemas } from '../api/client'
import { useWords } from '../api/words'
import { count } from '../words'
import { Reason } from './why'

type Props = { triage: Schemas['TriageOut']; findings: Schemas['FileFinding'][] }

/** The grade of an instrument with first aid and what not to do, in plain sight. */
export function Triage({ triage, findings }: Props) {
  const [asked, setAsked] = useState(false)
  const { grade, action } = useWords()
  const stopped = triage.action === 'stop'
  return (
    <div className={`border-l-3 pl-3 ${stopped ? 'border-error' : 'border-primary'}`} aria-label="Triage" role="group">
      <p className={`text-lg font-bold ${stopped ? 'text-error' : ''}`}>
        {stopped && <TriangleAlert size={18} className="mr-1.5 inline" aria-label="Caution" />}
        {stopped ? 'Stop playing' : grade(triage.grade)}
      </p>
      <p className="quiet text-sm">
        {stopped
          ? 'It goes into nobody’s hands until somebody allowed to clears it.'
          : (findings.find((f) => f.action === triage.action)?.next ?? action(triage.action))}
        {triage.due_days !== null && triage.due_days > 0 && `, within ${count(triage.due_days, 'day')}`}{' '}
        <button className="because" onClick={() => setAsked(!asked)} aria-expanded={asked}>
          why
        </button>
      </p>
      {asked && <Reason reason={triage.why} />}
      {triage.never.length > 0 && (
        <ul className="mt-1.5 text-sm font-bold">
          {triage.never.map((n) => (
            <li key={n} className="flex gap-1.5">
              <TriangleAlert size={15} className="mt-0.5 shrink-0 text-error" aria-label="Caution" /> {n}
            </li>
          ))}
        </ul>
      )}
      {triage.first_aid.length > 0 && (
        <ol className="mt-1.5 list-decimal pl-5 text-sm" aria-label="First aid">
          {triage.first_aid.map((f) => (
            <li key={f}>{f}</li>
          ))}
        </ol>
      )}
    </div>
  )
}
