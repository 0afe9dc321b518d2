import { useState } from 'react'
import type { Schemas } from '../../api/client'
import { useAddable } from '../../api/queries'
import { Drawing } from '../../drawings/Drawing'
import { Caution } from '../../shell/Caution'
import { useLesson } from './queries'

/** The first day with an instrument: put together step by step, and what is in the kit. */
export function Lessons() {
  const { data: kinds } = useAddable()
  const [kind, setKind] = useState('flute')
  const { data: lesson } = useLesson(kind)
  return (
    <div>
      <label className="no-print flex items-center gap-2">
        <span className="quiet">Instrument</span>
        <select className="select" value={kind} onChange={(e) => setKind(e.currentTarget.value)}>
          {kinds?.map((k) => (
            <option key={k.key} value={k.key}>
              {k.name}
            </option>
          ))}
        </select>
      </label>
      {lesson && <Lesson key={kind} lesson={lesson} />}
    </div>
  )
}

function Lesson({ lesson }: { lesson: Schemas['Lesson'] }) {
  const [at, setAt] = useState(0)
  const step = lesson.steps[at]
  return (
    <div className="mt-4 grid grid-cols-[minmax(0,1fr)] gap-7 lg:grid-cols-[380px_minmax(0,1fr)]">
      <div>
        <Drawing
          name={lesson.drawing}
          label={`Drawing of: ${lesson.kind}`}
          parts={step?.parts}
          held
          className="h-72 w-full"
        />
        <Drawing name={`${lesson.drawing}-case`} label="How it lies in its case" className="mt-2 h-36 w-full" />
      </div>
      <div className="min-w-0">
        <ol>
          {lesson.steps.map((s, n) => (
            <li key={n} className={`line py-2 ${n === at ? 'bg-base-200' : ''}`}>
              {s.caution && <Caution>{s.caution}</Caution>}
              <button
                className="flex w-full cursor-pointer gap-3 px-2 text-left"
                aria-current={n === at ? 'step' : undefined}
                onClick={() => setAt(n)}
              >
                <b className="tabular-nums">{n + 1}</b>
                <span>
                  {s.do}
                  {s.reason && <span className="quiet block text-sm">{s.reason}</span>}
                </span>
              </button>
            </li>
          ))}
        </ol>
        <h2 className="mt-6">In the kit</h2>
        <dl className="mt-1 grid grid-cols-[auto_1fr] gap-x-4">
          {lesson.kit.map((k) => (
            <div key={k.name} className="line col-span-2 grid grid-cols-subgrid py-1">
              <dt className="font-bold">{k.name}</dt>
              <dd>
                {k.for} {k.note && <span className="quiet">({k.note})</span>}
              </dd>
            </div>
          ))}
        </dl>
      </div>
    </div>
  )
}
