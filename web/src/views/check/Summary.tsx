import { keep, type Draft } from '../../api/checks'
import type { Schemas } from '../../api/client'
import { useKeys } from '../../shell/keys'
import { count } from '../../words'
import { newID } from '../../api/id'

/** All points once more before the walk is sent. */
export function Summary(props: { sheet: Schemas['Sheet']; draft: Draft; onPoint: (at: number) => void }) {
  const { sheet, draft, onPoint } = props
  const open = sheet.points.filter((p) => !draft.answers[p.key])
  const finish = () =>
    open.length === 0 &&
    keep({ ...draft, refused: undefined, finished: true, sending: draft.refused ? newID() : draft.sending })
  useKeys({ d: finish, Enter: finish })
  return (
    <section aria-label="Summary">
      <h2 className="mt-2 text-2xl">{open.length === 0 ? 'All looked at' : `${count(open.length, 'point')} left`}</h2>
      {draft.refused && (
        <p role="alert" className="mt-1 text-error">
          {draft.refused.message}
        </p>
      )}
      <ol className="mt-2">
        {sheet.points.map((p, n) => {
          const a = draft.answers[p.key]
          const wrong =
            a && draft.refused?.fields[`answers[${String(Object.keys(draft.answers).indexOf(p.key))}].measured`]
          return (
            <li key={p.key} className="line">
              <button className="flex w-full cursor-pointer gap-3 py-1 text-left" onClick={() => onPoint(n)}>
                <span className="quiet w-5 text-right">{n + 1}</span>
                <span className="w-36 shrink-0">{p.title}</span>
                <span className={`min-w-0 flex-1 ${a?.findings.length || wrong ? 'font-bold text-error' : 'quiet'}`}>
                  {!a && 'not looked at yet'}
                  {a && a.findings.map((f) => p.answers.find((x) => x.code === f.code)?.name).join(', ')}
                  {a && a.findings.length === 0 && !a.measured && 'looks right'}
                  {a?.measured && ` ${a.measured}`} {wrong}
                </span>
              </button>
            </li>
          )
        })}
      </ol>
      <div className="mt-4 flex gap-3">
        <button className="btn" onClick={() => onPoint(sheet.points.length - 1)}>
          Back
        </button>
        <button className="btn btn-primary" disabled={open.length > 0} onClick={finish}>
          Finish the check
        </button>
      </div>
    </section>
  )
}
