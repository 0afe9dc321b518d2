import { sendPhoto } from '../../api/photos'
import type { Schemas } from '../../api/client'
import { FindingDetail, type FoundDetail } from '../../shell/FindingDetail'
import { newID } from '../../api/id'

type Props = {
  instrument: string
  label: string
  answers: Schemas['SheetAnswer'][]
  found: FoundDetail[]
  errors: Record<string, string>
  onChange: (found: FoundDetail[]) => void
}

/** Keeps a photograph at the server at once, to be tied to what it shows later. */
export async function photographOf(instrument: string, picture: File) {
  const id = newID()
  await sendPhoto(instrument, id, picture)
  return id
}

/** Adds what is new. What is known already is not asked for again. */
export function NewFindings({ instrument, label, answers, found, errors, onChange }: Props) {
  const left = answers.filter((a) => !a.open && !found.some((f) => f.code === a.code))
  return (
    <div>
      {found.map((f, n) => {
        const name = answers.find((a) => a.code === f.code)?.name ?? f.code
        return (
          <div key={f.code} className="grid">
            <FindingDetail
              name={name}
              finding={f}
              keepPhoto={(picture) => photographOf(instrument, picture)}
              onChange={(changed) => onChange(found.map((x) => (x.code === f.code ? changed : x)))}
            />
            {errors[`findings[${String(n)}].code`] && (
              <p className="text-sm text-error">{errors[`findings[${String(n)}].code`]}</p>
            )}
            <button
              type="button"
              className="because mt-1 justify-self-end text-sm"
              aria-label={`Take away: ${name}`}
              onClick={() => onChange(found.filter((x) => x.code !== f.code))}
            >
              take away
            </button>
          </div>
        )
      })}
      <select
        className="select mt-3 w-full"
        aria-label={label}
        value=""
        onChange={(e) => {
          const a = answers.find((x) => x.code === e.currentTarget.value)
          if (a) onChange([...found, { code: a.code, note: '', photos: [], avoidable: a.avoidable }])
        }}
      >
        <option value="">{label}…</option>
        {left.map((a) => (
          <option key={a.code} value={a.code}>
            {a.name}
          </option>
        ))}
      </select>
    </div>
  )
}
