import type { Schemas } from '../../api/client'
import { Photographs, type FoundDetail } from '../../shell/FindingDetail'
import { moment } from '../../words'
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
      <p>
        {sheet.checked ? `Last checked ${moment(sheet.checked)}.` : 'Never checked here yet.'}{' '}
        {sheet.findings.length === 0 ? 'Nothing is known to be wrong with it.' : 'Known and open:'}
      </p>
      <ul className="mt-1">
        {sheet.findings.map((f) => (
          <li key={f.id} className="line py-1">
            {f.name} <span className="quiet text-sm">{f.note || f.seen}</span>
          </li>
        ))}
      </ul>
      <h2 className="mt-4">Changed since?</h2>
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
