import { Link } from 'react-router'
import { money, nearDay } from '../../words'
import { tagsOf, type Note, type Score } from './notes'

type Props = {
  note: Note
  score: Score
  onMove: ((note: Note, week: number) => void) | undefined
  onFree: ((note: Note) => void) | undefined
  onClose: () => void
}

/** What a note stands for: which instruments, why in this week, and where else it may go. */
export function Card({ note, score, onMove, onFree, onClose }: Props) {
  const minutes = note.pieces.reduce((n, p) => n + p.minutes, 0)
  const cents = note.pieces.reduce((n, p) => n + p.cents, 0)
  const { first, last } = note
  const week = (n: number) => {
    const w = score.weeks[n]
    return w ? `${w.name ? `week ${w.name}, ` : ''}${nearDay(w.monday)}` : ''
  }
  const one = note.pieces[0]
  return (
    <section
      aria-label={`${tagsOf(note)}: ${note.title}`}
      className="mx-auto mt-1 max-w-3xl rounded-lg border border-base-content bg-base-100 p-3"
    >
      <p>
        <b>
          {tagsOf(note)}: {note.title}
        </b>{' '}
        <span className="quiet">
          {note.place === 'bench' ? `at the bench, ${String(Math.round(minutes))} min` : 'by van to the shop'},{' '}
          {week(note.week)}
          {cents > 0 && `, about ${money(cents)}`}
        </span>
        <button className="because float-right" onClick={onClose}>
          close
        </button>
      </p>
      {one && (
        <p className="text-sm">
          {one.because} {one.why}
        </p>
      )}
      {note.pieces.length > 1 && (
        <p className="quiet text-sm">
          {note.pieces.map((p, n) => (
            <span key={p.id}>
              {n > 0 && ', '}
              <Link to={p.job_id ? `/shop/jobs/${p.job_id}` : `/instruments/${p.instrument_id}`} className="link">
                {p.tag}
              </Link>
            </span>
          ))}
        </p>
      )}
      {note.pieces.length === 1 && one && (
        <p className="text-sm">
          <Link className="link" to={one.job_id ? `/shop/jobs/${one.job_id}` : `/instruments/${one.instrument_id}`}>
            {one.job_id ? 'The job' : `The file of ${one.tag}`}
          </Link>
          {one.parts && <span className="quiet"> {one.parts}</span>}
          {one.loaner && <span className="quiet"> A loaner goes in its place.</span>}
        </p>
      )}
      {onMove && (
        <p className="mt-2 flex flex-wrap items-center gap-2">
          {note.pinned ? (
            <button className="btn btn-sm" onClick={() => onFree?.(note)}>
              Let it go where it likes
            </button>
          ) : (
            <button className="btn btn-primary btn-sm" onClick={() => onMove(note, note.week)}>
              Pin it here
            </button>
          )}
          <label className="flex items-center gap-1.5 text-sm">
            Move to
            <select
              className="select select-sm w-44"
              value={note.week}
              onChange={(e) => onMove(note, Number(e.currentTarget.value))}
            >
              {score.weeks.map((w, n) =>
                n === note.week || (n >= first && n <= last) ? (
                  <option key={w.monday} value={n}>
                    {week(n)}
                  </option>
                ) : null,
              )}
            </select>
          </label>
        </p>
      )}
    </section>
  )
}
