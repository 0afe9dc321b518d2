import { Link } from 'react-router'
import type { Schemas } from '../../api/client'
import { useMay } from '../../api/queries'
import { useNotice, useUndo } from '../../shell/notice'
import { moment } from '../../words'

/** Everything that ever happened to the instrument, the newest first. Undoing adds a line and takes none away. */
export function Timeline({ of: { listed, timeline, bench_record } }: { of: Schemas['File'] }) {
  const notice = useNotice()
  const undo = useUndo(notice.show)
  const may = useMay('finish care')
  return (
    <aside aria-label="Timeline">
      <h2>Timeline</h2>
      {bench_record && (
        <Link className="link text-sm" to={`/instruments/${listed.id}/record`}>
          Its cleaning record, to print
        </Link>
      )}
      <ol
        className="mt-1 lg:max-h-[calc(100dvh-210px)] lg:overflow-y-auto lg:pr-2"
        tabIndex={0}
        aria-label="What happened"
      >
        {timeline.map((e) => (
          <li key={e.id} className="line grid grid-cols-[1fr_auto] gap-x-2 py-1.5 text-sm">
            <span className={e.undone ? 'quiet line-through' : ''}>{e.sentence}</span>
            {e.undoable && may && (
              <button
                className="because no-print"
                aria-label={`Undo: ${e.sentence}`}
                onClick={() => undo.mutate([e.id])}
              >
                undo
              </button>
            )}
            <span className="quiet col-span-2 text-xs">
              {moment(e.at)}
              {e.by && `, ${e.by}`}
            </span>
          </li>
        ))}
      </ol>
    </aside>
  )
}
