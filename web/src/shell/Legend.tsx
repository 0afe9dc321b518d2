import { useEffect, useRef } from 'react'
import { useWords } from '../api/words'
import { Mark, type MarkName } from '../marks/Mark'
import { views } from './Rail'

const keys: [string, string][] = [
  ['/', 'scan or type'],
  ['Ctrl K', 'commands'],
  ['j  k', 'next, previous line'],
  ['x', 'select the line'],
  ['d', 'done: the line, or all that are selected'],
  ['w', 'why'],
  ['l  l', 'lend the first loaner on Today'],
  ['f', 'finding: what is wrong with it?'],
  ['1 to 9', 'answers in a check'],
  ['Enter', 'open'],
  ['u', 'undo'],
  ['?', 'this page'],
]

/** The marks and the keys, one key away from everywhere. */
export function Legend({ onClose }: { onClose: () => void }) {
  const { marks } = useWords()
  const dialog = useRef<HTMLDialogElement>(null)
  useEffect(() => dialog.current?.showModal(), [])
  return (
    <dialog ref={dialog} className="modal" onClose={onClose} aria-labelledby="legend-title">
      <div className="modal-box max-w-2xl border border-base-content">
        <h1 id="legend-title">Marks and keys</h1>
        <div className="mt-4 grid gap-8 sm:grid-cols-2">
          <ul>
            {marks.map(({ key, words }) => (
              <li key={key} className="flex items-center gap-3 py-1">
                <Mark name={key as MarkName} /> {words}
              </li>
            ))}
          </ul>
          <dl className="grid grid-cols-[auto_1fr] content-start gap-x-4 gap-y-2">
            {[...keys, ...views.map((v): [string, string] => [`g ${v.key}`, `go to ${v.name}`])].map(([key, what]) => (
              <div key={key} className="contents">
                <dt>
                  <kbd className="kbd kbd-sm whitespace-pre">{key}</kbd>
                </dt>
                <dd>{what}</dd>
              </div>
            ))}
          </dl>
        </div>
        <form method="dialog" className="modal-action">
          <button className="btn btn-primary">Close</button>
        </form>
      </div>
    </dialog>
  )
}
