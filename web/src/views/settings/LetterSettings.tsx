import { useWatch } from 'react-hook-form'
import { api, take, type Schemas } from '../../api/client'
import { useLetters } from '../../api/queries'
import { useEntry } from '../../shell/entry'
import { useSaving } from './saving'

type Letter = Schemas['SchoolLetter']

/** How the agreement and the notices are worded. What was agreed before stays as it was worded then. */
export function LetterSettings() {
  const { data: letters, error } = useLetters()
  if (error && !letters) return <p role="alert">{error.message}</p>
  if (!letters) return <p className="quiet">Sharpening the pencil…</p>
  return (
    <div className="max-w-3xl">
      <p className="quiet">
        The first line is the heading. Places in braces are filled in. The wordings that come with Solfeggio are no
        legal text: have yours looked over by whoever is responsible at your school.
      </p>
      {letters.map((l) => (
        <OneLetter key={`${l.key}/${String(l.version)}`} letter={l} />
      ))}
    </div>
  )
}

function OneLetter({ letter }: { letter: Letter }) {
  const { register, submit, control } = useEntry({ defaultValues: { wording: letter.wording } })
  const wording = useWatch({ control, name: 'wording' })
  const { save, busy, error, wrong } = useSaving((text: string) =>
    take(
      api.PUT('/api/v1/letters', {
        body: { key: letter.key, wording: text, version: letter.version },
      }),
    ),
  )
  return (
    <details className="line py-2">
      <summary className="cursor-pointer">
        <b>{letter.name}</b> <span className="quiet text-sm">{letter.own ? 'your wording' : 'as it came'}</span>
      </summary>
      <form onSubmit={submit((v) => save(v.wording).catch(() => undefined))}>
        <textarea
          className="textarea mt-2 w-full text-sm"
          rows={12}
          aria-label={`Wording: ${letter.name}`}
          {...register('wording')}
        />
        <p className="quiet text-sm">Places: {letter.places.map((p) => `{${p}}`).join(' ')}</p>
        {error && (
          <p role="alert" className="text-sm text-error">
            {wrong.wording ?? error}
          </p>
        )}
        <button className="btn btn-primary btn-sm mt-2" disabled={busy || wording === letter.wording}>
          Save
        </button>
      </form>
    </details>
  )
}
