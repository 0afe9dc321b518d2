import type { Schemas } from '../../api/client'
import { Photographs, type FoundDetail } from '../../shell/FindingDetail'
import { Remarked } from '../../shell/Remarked'
import { NewFindings, photographOf } from './NewFindings'

/** What was seen of its condition, and photographed. */
export type Seen = { findings: FoundDetail[]; photos: string[] }

type Props = {
  sheet: Schemas['HandOverSheet']
  seen: Seen
  errors: Record<string, string>
  onChange: (part: Partial<Seen>) => void
}

/** What is known, what changed since the last check, and photographs to compare with at the return. */
export function ConditionStep({ sheet, seen, errors, onChange }: Props) {
  const { id } = sheet.instrument
  return (
    <>
      <p className="quiet text-sm">The agreement says of its condition, besides what you add here:</p>
      <ul className="mt-1" aria-label="Known when it goes out">
        {sheet.known.map((sentence) => (
          <li key={sentence} className="line py-1">
            {sentence}
          </li>
        ))}
      </ul>
      <h2 className="mt-4">Changed since?</h2>
      <Remarked
        of={sheet.remarked.filter((r) => !seen.findings.some((f) => f.code === r.key))}
        onFound={(code) =>
          onChange({
            findings: [
              ...seen.findings,
              { code, note: '', photos: [], avoidable: sheet.answers.find((a) => a.code === code)?.avoidable ?? false },
            ],
          })
        }
      />
      <NewFindings
        instrument={id}
        label="Add something new"
        answers={sheet.answers}
        found={seen.findings}
        errors={errors}
        onChange={(findings) => onChange({ findings })}
      />
      <div className="mt-4">
        <h2>As it goes out</h2>
        <p className="quiet text-sm">A photograph of the whole, to lay beside the next one when it comes back.</p>
        <Photographs
          label="Photograph of the instrument"
          photos={seen.photos}
          keepPhoto={(picture) => photographOf(id, picture)}
          onChange={(photos) => onChange({ photos })}
        />
      </div>
    </>
  )
}
