import { useState } from 'react'
import { Link } from 'react-router'
import { useSettings } from '../../api/queries'
import { Choice } from './Choice'
import { useBoard, useDeck, type Phase } from './queries'

/** Chooses whose first or last minutes go onto the projector. */
export function PackUp() {
  const { data: settings } = useSettings()
  const { data: deck } = useDeck()
  const [ensemble, setEnsemble] = useState('')
  const [phase, setPhase] = useState<Phase>('pack-up')
  const [language, setLanguage] = useState('en')
  if (!settings) return <p className="quiet">Reading the ensembles…</p>
  if (settings.ensembles.length === 0)
    return (
      <p>
        No ensemble yet.{' '}
        <Link className="link" to="/settings/ensembles">
          Add one
        </Link>
        ; its sections then pack up side by side.
      </p>
    )
  const chosen = ensemble || (settings.ensembles[0]?.id ?? '')
  return (
    <div className="max-w-2xl">
      <p>
        All sections side by side on the projector: each with its steps, one clock for all, the bell as the deadline. It
        needs no network once it is open.
      </p>
      <div className="mt-3 flex flex-wrap items-end gap-2">
        <Choice
          label="Ensemble"
          value={chosen}
          onChange={setEnsemble}
          list={settings.ensembles.map((e) => [e.id, e.name])}
        />
        <Choice
          label="Minutes of the rehearsal"
          value={phase}
          onChange={(key) => setPhase(key as Phase)}
          list={[
            ['pack-up', 'the last: pack up'],
            ['set-up', 'the first: set up'],
          ]}
        />
        <Choice
          label="Language"
          value={language}
          onChange={setLanguage}
          list={deck?.languages.map((l) => [l.key, l.name]) ?? []}
        />
        <Link className="btn btn-sm btn-primary" to={`/pack-up/${chosen}/${phase}?l=${language}`}>
          Open the board
        </Link>
      </div>
      <Foreseen ensemble={chosen} phase={phase} language={language} />
    </div>
  )
}

/** How long it takes and who is on it. */
function Foreseen({ ensemble, phase, language }: { ensemble: string; phase: Phase; language: string }) {
  const { data: board } = useBoard(ensemble, phase, language)
  if (!board) return null
  if (board.sections.length === 0)
    return <p className="mt-4">Nobody plays in it yet: hand instruments out to its players.</p>
  return (
    <table className="table-sm mt-5 table">
      <caption className="text-left">
        The longest routine takes <b>{board.minutes}</b> minutes: begin so long before the bell.
      </caption>
      <thead className="text-base-content">
        <tr>
          <th>Section</th>
          <th>Players</th>
          <th>Steps</th>
          <th>Minutes</th>
        </tr>
      </thead>
      <tbody>
        {board.sections.map((s) => (
          <tr key={s.name}>
            <td>
              {s.name}
              {s.others.length > 0 && <span className="quiet text-sm"> {s.others.join(', ')}: by their own cards</span>}
            </td>
            <td>{s.players}</td>
            <td>{s.steps.length}</td>
            <td>{s.minutes}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}
