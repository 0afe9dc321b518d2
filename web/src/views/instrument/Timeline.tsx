import type { Schemas } from '../../api/client'
import { useMay } from '../../api/queries'
import { useNotice, useUndo } from '../../shell/notice'
import { fullDay, gradeWords, moment } from '../../words'

type Happening = Schemas['Happening']
type Detail = {
  title?: string
  done_on?: string
  state?: string
  before?: Record<string, unknown>
  after?: Record<string, unknown>
  grade?: keyof typeof gradeWords
  found?: string[]
  cleared?: string[]
  how?: string
  note?: string
  option?: string
  limits?: object
  slot?: string
}

/** Everything that ever happened to the instrument, the newest first. Undoing adds a line and takes none away. */
export function Timeline({ entries }: { entries: Happening[] }) {
  const notice = useNotice()
  const undo = useUndo(notice.show)
  const may = useMay('finish care')
  return (
    <aside aria-label="Timeline">
      <h2>Timeline</h2>
      <ol
        className="mt-1 lg:max-h-[calc(100dvh-210px)] lg:overflow-y-auto lg:pr-2"
        tabIndex={0}
        aria-label="What happened"
      >
        {entries.map((e) => (
          <li key={e.id} className="line grid grid-cols-[1fr_auto] gap-x-2 py-1.5 text-sm">
            <span className={e.undone ? 'quiet line-through' : ''}>{sentence(e)}</span>
            {e.undoable && may && (
              <button
                className="because no-print"
                aria-label={`Undo: ${sentence(e)}`}
                onClick={() => undo.mutate({ events: [e.id], id: crypto.randomUUID() })}
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

function sentence(e: Happening) {
  const d = e.detail as Detail
  switch (e.what) {
    case 'imported':
      return 'Came in with an import'
    case 'care-done': {
      const back = d.done_on && !e.at.startsWith(d.done_on) ? ` on ${fullDay(d.done_on)}` : ''
      const how = d.state === 'late' ? ', late' : d.state === 'fresh' ? ', early' : ''
      return `${d.title ?? 'Care'} done${back}${how}`
    }
    case 'instrument-changed': {
      const names = Object.keys(d.after ?? {}).filter(
        (k) => k !== 'version' && JSON.stringify(d.before?.[k]) !== JSON.stringify(d.after?.[k]),
      )
      return names.length > 0
        ? `Changed: ${names.map((n) => n.replaceAll('_', ' ')).join(', ')}`
        : 'Changed how it is played'
    }
    case 'inspected': {
      const found = d.found?.length ? `: ${d.found.join(', ').toLowerCase()}` : ', nothing found'
      const gone = d.cleared?.length ? `; no longer seen: ${d.cleared.join(', ').toLowerCase()}` : ''
      return `Checked${found}${gone}. ${d.grade ? gradeWords[d.grade] : ''}`
    }
    case 'finding-made':
      return `Found: ${d.title ?? ''}${d.note ? ` (${d.note})` : ''}`
    case 'finding-cleared':
      return `Cleared: ${d.title ?? ''}${d.how ? `, ${d.how}` : ''}`
    case 'own-choice':
      return d.option || d.limits ? `Its own way: ${d.title ?? ''}` : `As the school again: ${d.title ?? ''}`
    case 'handed-out':
      return `Handed out to ${e.player ?? 'a player'}`
    case 'returned':
      return `Came back${e.player ? ` from ${e.player}` : ''}`
    case 'not-found':
      return `Not found at a stocktake${d.slot ? ` in ${d.slot}` : ''}`
    case 'undone':
      return `Undone: ${d.title ?? 'a change'}`
    case 'settings-changed':
      return 'Settings changed'
  }
}
