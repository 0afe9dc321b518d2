import { Link } from 'react-router'
import type { Schemas } from '../../api/client'
import { useMay } from '../../api/queries'
import { useNotice, useUndo } from '../../shell/notice'
import { fullDay, gradeWords, inText, kitWords, moment } from '../../words'

type Happening = Schemas['Happening']
type Detail = {
  products?: string[]
  because?: string
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
  owner?: string
  changes?: { name: string; before: keyof typeof kitWords; after: keyof typeof kitWords }[]
}

/** Everything that ever happened to the instrument, the newest first. Undoing adds a line and takes none away. */
export function Timeline({ instrument, entries }: { instrument: string; entries: Happening[] }) {
  const notice = useNotice()
  const undo = useUndo(notice.show)
  const may = useMay('finish care')
  return (
    <aside aria-label="Timeline">
      <h2>Timeline</h2>
      {entries.some((e) => e.what === 'bench-done') && (
        <Link className="link text-sm" to={`/instruments/${instrument}/record`}>
          Its cleaning record, to print
        </Link>
      )}
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
    case 'agreed':
      return `The agreement is signed${e.player ? ` by or for ${e.player}` : ''}`
    case 'hold-ended':
      return `Let go: ${d.how ?? ''}`
    case 'bench-done':
      return `At the bench: ${d.title ?? ''}${d.products?.length ? `, with ${d.products.join(', ')}` : ''}`
    case 'bench-left':
      return `Left the bench unfinished: ${d.because ?? ''}`
    case 'kit-checked':
      return d.changes?.length
        ? `Kit: ${d.changes.map((c) => `${inText(c.name)} ${kitWords[c.after]}`).join(', ')}`
        : 'Kit looked through, nothing new'
    case 'kit-refilled':
      return `Kit refilled: ${d.changes?.map((c) => inText(c.name)).join(', ') ?? ''}`
    case 'rental-changed':
      return `Rented from ${d.owner ?? 'its owner'}${d.how ? `, ${d.how}` : ''}`
    case 'left-school':
      return `Left the school: ${d.how ?? ''}`
    case 'notice-sent':
      return 'A notice was put into the simulated outbox'
    case 'not-found':
      return `Not found at a stocktake${d.slot ? ` in ${d.slot}` : ''}`
    case 'undone':
      return `Undone: ${d.title ?? 'a change'}`
    case 'settings-changed':
      return 'Settings changed'
  }
}
