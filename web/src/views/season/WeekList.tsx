import { Link } from 'react-router'
import { count, nearDay } from '../../words'
import { tagsOf, type Note, type Score } from './notes'

type Props = { score: Score; notes: Note[]; onMove: ((note: Note, week: number) => void) | undefined }

/** The same as the score, week by week, for reading aloud and for paper. */
export function WeekList({ score, notes, onMove }: Props) {
  const waits = score.pieces.filter((p) => p.week === null)
  return (
    <div className="mt-3 max-w-4xl">
      {score.weeks.map((w, n) => {
        const here = notes.filter((note) => note.week === n)
        if (here.length + w.concerts.length + w.beside === 0 && !w.break) return null
        return (
          <section key={w.monday} aria-label={`Week of ${nearDay(w.monday)}`} className="mb-4">
            <h2>
              {w.name && `Week ${w.name}, `}
              {nearDay(w.monday)}
              <span className="quiet font-sans text-sm font-normal">
                {w.break && ` ${w.break}`}
                {w.concerts.length > 0 && ` ${w.concerts.join(', ')}`}
                {` · ${String(Math.round(w.used_minutes))} of ${String(w.minutes)} min`}
                {w.beside > 0 && ` · beside it ${count(w.beside, 'small task')}, on Today when they are due`}
                {w.trip && ` · van, ${String(w.used_places)} of ${count(w.places, 'place')}`}
              </span>
            </h2>
            <ul>
              {here.map((note) => {
                const { first, last } = note
                return (
                  <li key={note.key} className="line flex items-baseline gap-3 py-1 text-sm">
                    <span className="w-40 shrink-0 font-bold">{tagsOf(note)}</span>
                    <span className="flex-1">
                      {note.title}
                      <span className="quiet">
                        {note.place === 'van' && ', to the shop'}
                        {note.when === 'late' && ', late'}
                        {note.when === 'early' && ', early'}
                        {note.pinned && ', pinned'}
                      </span>
                    </span>
                    {onMove && (
                      <select
                        className="select select-sm no-print w-32"
                        aria-label={`Week of ${tagsOf(note)}: ${note.title}`}
                        value={note.week}
                        onChange={(e) => onMove(note, Number(e.currentTarget.value))}
                      >
                        {score.weeks.map((other, k) =>
                          k === n || (k >= first && k <= last) ? (
                            <option key={other.monday} value={k}>
                              {nearDay(other.monday)}
                            </option>
                          ) : null,
                        )}
                      </select>
                    )}
                  </li>
                )
              })}
            </ul>
          </section>
        )
      })}
      {waits.length > 0 && (
        <section aria-label="Waits">
          <h2>{count(waits.length, 'piece')} without a week</h2>
          <ul>
            {waits.map((p) => (
              <li key={p.id} className="line flex gap-3 py-1 text-sm">
                <Link to={`/instruments/${p.instrument_id}`} className="w-40 shrink-0 font-bold">
                  {p.tag}
                </Link>
                <span className="flex-1">
                  {p.title} <span className="quiet">{p.why}</span>
                </span>
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  )
}
