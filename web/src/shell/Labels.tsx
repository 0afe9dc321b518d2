import { useState } from 'react'
import { useWords } from '../api/words'
import { count } from '../words'
import { keepLabelSheet, labelSheet } from './labelSheet'

/** Which sheet of labels lies in the printer, and how many of its places are used up. The sheet is remembered. */
export function Labels({ query, labels }: { query: string; labels: number }) {
  const { label_sheets: sheets } = useWords()
  const [sheet, setSheet] = useState(() => labelSheet() || (sheets[0]?.key ?? ''))
  const [skip, setSkip] = useState(0)
  return (
    <div className="mt-2 flex flex-wrap items-end gap-3">
      <label className="grid text-sm">
        Sheet
        <select
          className="select select-sm w-72"
          value={sheet}
          onChange={(e) => {
            setSheet(e.currentTarget.value)
            keepLabelSheet(e.currentTarget.value)
          }}
        >
          {sheets.map((s) => (
            <option key={s.key} value={s.key}>
              {s.words}
            </option>
          ))}
        </select>
      </label>
      <label className="grid text-sm">
        Places used up already
        <input
          className="input input-sm w-24"
          type="number"
          min={0}
          max={29}
          value={skip}
          onChange={(e) => setSkip(Math.max(0, e.currentTarget.valueAsNumber || 0))}
        />
      </label>
      <a
        className="btn btn-primary btn-sm"
        href={`/api/v1/labels.pdf?${query}&sheet=${sheet}&skip=${String(skip)}`}
        target="_blank"
        rel="noreferrer"
      >
        Print {count(labels, 'label')}
      </a>
    </div>
  )
}
