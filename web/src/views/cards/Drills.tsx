import { useState } from 'react'
import { Link } from 'react-router'
import { useSettings } from '../../api/queries'
import { nearDay } from '../../words'
import { Choice } from './Choice'
import { useClass, useDeck } from './queries'

/** Chooses a class and an instrument for a drill on the projector. */
export function Drills() {
  const { data: settings } = useSettings()
  const { data: deck } = useDeck()
  const [ensemble, setEnsemble] = useState('')
  const [kind, setKind] = useState('')
  const [language, setLanguage] = useState('en')
  const chosen = ensemble || (settings?.ensembles[0]?.id ?? '')
  const { data: lesson } = useClass(chosen, kind, '', language)
  if (!settings) return <p className="quiet">Reading the ensembles…</p>
  return (
    <div className="max-w-2xl">
      <p>
        One question for all: hands up with one to four fingers. What a class got wrong comes back sooner. No names are
        kept. Players train by themselves on the page of their card.
      </p>
      <div className="mt-3 flex flex-wrap items-end gap-2">
        <Choice
          label="Class"
          value={chosen}
          onChange={(id) => {
            setEnsemble(id)
            setKind('')
          }}
          list={settings.ensembles.map((e) => [e.id, e.name])}
        />
        <Choice
          label="Instrument"
          value={lesson?.kind ?? ''}
          onChange={setKind}
          list={lesson?.kinds.map((k) => [k.key, k.name]) ?? []}
        />
        <Choice
          label="Language"
          value={language}
          onChange={setLanguage}
          list={deck?.languages.map((l) => [l.key, l.name]) ?? []}
        />
        {lesson?.question && (
          <Link className="btn btn-sm btn-primary" to={`/drill/${chosen}/${lesson.kind}?l=${language}`}>
            Start the drill
          </Link>
        )}
      </div>
      {lesson && lesson.all === 0 && <p className="mt-4">Nobody plays in it yet.</p>}
      {lesson && lesson.all > 0 && (
        <p className="mt-4">
          {lesson.known} of {lesson.all} questions are known for now.
          {lesson.next_on && ` The next comes on ${nearDay(lesson.next_on)}.`}
        </p>
      )}
    </div>
  )
}
