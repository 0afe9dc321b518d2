import { useState } from 'react'
import { useAddable } from '../../api/queries'
import { count } from '../../words'
import type { AsRead, Reading } from './useReading'

type Meaning = { kind: string; own: boolean }

/** Names of instruments that are no kind here: another word for one, or a kind of the school's own that is cared for like one. */
export function UnknownKinds({
  as,
  reading,
  change,
}: {
  as: AsRead
  reading: Reading
  change: (part: Reading) => void
}) {
  const kinds = useAddable()
  const [meanings, setMeanings] = useState<Record<string, Meaning>>({})
  if (as.unknown_kinds.length === 0 || !kinds.data) return null
  const meaningOf = (text: string, near: string) => meanings[text] ?? { kind: near, own: false }
  const set = (text: string, meaning: Meaning) => setMeanings({ ...meanings, [text]: meaning })
  const ready = as.unknown_kinds.filter((u) => meaningOf(u.text, u.near).kind)
  return (
    <fieldset className="mt-4 max-w-3xl border-l-3 border-warning pl-3">
      <legend className="sr-only">What these are</legend>
      <p>
        <b>{as.unknown_kinds.length === 1 ? 'One name is' : 'Some names are'} not known here.</b> Another word for a
        kind, or a kind of your own that is cared for like one?
      </p>
      <ul className="mt-2 grid gap-2">
        {as.unknown_kinds.map((u) => {
          const meaning = meaningOf(u.text, u.near)
          return (
            <li key={u.text} className="flex flex-wrap items-center gap-x-3 gap-y-1">
              <span className="w-56">
                <b>{u.text}</b> <span className="quiet text-sm">in {count(u.rows, 'row')}</span>
              </span>
              <select
                className="select select-sm w-44"
                aria-label={`How ${u.text} is meant`}
                value={meaning.own ? 'own' : 'is'}
                onChange={(e) => set(u.text, { ...meaning, own: e.currentTarget.value === 'own' })}
              >
                <option value="is">is another word for</option>
                <option value="own">is cared for like</option>
              </select>
              <select
                className="select select-sm w-52"
                aria-label={`Kind of ${u.text}`}
                value={meaning.kind}
                onChange={(e) => set(u.text, { ...meaning, kind: e.currentTarget.value })}
              >
                <option value="">choose…</option>
                {kinds.data
                  .filter((k) => !meaning.own || !k.own)
                  .map((k) => (
                    <option key={k.key}>{k.name}</option>
                  ))}
              </select>
            </li>
          )
        })}
      </ul>
      <button
        type="button"
        className="btn btn-primary btn-sm mt-2"
        disabled={ready.length === 0}
        onClick={() =>
          change({
            kinds: {
              ...reading.kinds,
              ...Object.fromEntries(
                ready.map(({ text, near }) => {
                  const { kind, own } = meaningOf(text, near)
                  return [text, own ? `${text} like ${kind}` : kind]
                }),
              ),
            },
          })
        }
      >
        That is what they are
      </button>
    </fieldset>
  )
}
