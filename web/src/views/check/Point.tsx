import { useState } from 'react'
import { keepPhoto, type Answer } from '../../api/checks'
import type { Schemas } from '../../api/client'
import { Caution } from '../../shell/Caution'
import { FindingDetail } from '../../shell/FindingDetail'

type Props = {
  point: Schemas['SheetPoint']
  answer: Answer
  caution: string[]
  error: string | undefined
  onRight: () => void
  onToggle: (code: string) => void
  onAnswer: (answer: Answer) => void
  onNext: () => void
  onBack: (() => void) | undefined
}

/** One point: what to look at, and what may be seen there. Targets are large enough for a thumb. */
export function Point({ point, answer, caution, error, onRight, onToggle, onAnswer, onNext, onBack }: Props) {
  const [why, setWhy] = useState(false)
  const found = answer.findings.length > 0
  return (
    <section aria-label={point.title}>
      <h2 className="mt-2 text-2xl">{point.title}</h2>
      {caution.map((c) => (
        <Caution key={c}>{c}</Caution>
      ))}
      <p className="quiet mt-1">{point.look}</p>
      <div className="mt-3 grid gap-2">
        <Choice number={1} on={answer.right} strong onClick={onRight}>
          Looks right
        </Choice>
        {point.answers.map((a, n) => (
          <Choice
            key={a.code}
            number={n + 2}
            on={answer.findings.some((f) => f.code === a.code)}
            onClick={() => onToggle(a.code)}
          >
            {a.name}
            <span className="quiet block text-sm font-normal">
              {a.open && <b className="text-warning">Found before. </b>}
              {a.seen}
            </span>
          </Choice>
        ))}
      </div>
      {point.measure && <Measure point={point} answer={answer} error={error} onAnswer={onAnswer} onNext={onNext} />}
      {answer.findings.map((f) => (
        <FindingDetail
          keepPhoto={keepPhoto}
          key={f.code}
          name={point.answers.find((a) => a.code === f.code)?.name ?? f.code}
          finding={f}
          onChange={(changed) =>
            onAnswer({ ...answer, findings: answer.findings.map((x) => (x.code === f.code ? changed : x)) })
          }
        />
      ))}
      <div className="mt-4 flex items-center gap-3">
        {onBack && (
          <button className="btn" onClick={onBack}>
            Back
          </button>
        )}
        {(found || answer.measured.trim() !== '' || answer.right) && (
          <button className="btn btn-primary" onClick={onNext}>
            Next
          </button>
        )}
        <button className="because ml-auto" aria-expanded={why} onClick={() => setWhy(!why)}>
          why look here?
        </button>
      </div>
      {why && <p className="mt-1 text-right text-sm">{point.reason}</p>}
    </section>
  )
}

function Choice(props: {
  number: number
  on: boolean
  strong?: boolean
  onClick: () => void
  children: React.ReactNode
}) {
  return (
    <button
      aria-pressed={props.on}
      className={`flex min-h-12 cursor-pointer items-center gap-3 rounded-lg border px-4 py-2 text-left ${
        props.on ? 'border-2 border-primary bg-base-200' : props.strong ? 'border-2 border-primary' : 'border-base-300'
      }`}
      onClick={props.onClick}
    >
      <span className={`min-w-0 flex-1 ${props.strong || props.on ? 'font-bold' : ''}`}>{props.children}</span>
      <span className="quiet" aria-hidden>
        {props.number}
      </span>
    </button>
  )
}

function Measure({
  point,
  answer,
  error,
  onAnswer,
  onNext,
}: Pick<Props, 'point' | 'answer' | 'error' | 'onAnswer' | 'onNext'>) {
  const m = point.measure
  if (!m) return null
  const about = m.target
    ? `should be ${String(m.target.value)} ± ${String(m.target.tolerance)} ${m.unit} (${m.basis})`
    : 'no figure is kept for this size; it is only noted'
  return (
    <label className="mt-3 block">
      <span className="font-bold">{m.name}</span> <span className="quiet text-sm">{about}</span>
      <input
        className={`input mt-1 w-full ${error ? 'input-error' : ''}`}
        inputMode="text"
        placeholder={`as 3.5, 3,5${m.unit === 'mm' ? ' or 0.14 in' : ''}`}
        value={answer.measured}
        onChange={(e) => onAnswer({ ...answer, measured: e.currentTarget.value })}
        onKeyDown={(e) => {
          if (e.key === 'Enter') onNext()
        }}
      />
      {error && (
        <span role="alert" className="text-sm text-error">
          {error}
        </span>
      )}
    </label>
  )
}
