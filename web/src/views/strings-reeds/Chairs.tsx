import { useState } from 'react'
import { api, take, type Schemas } from '../../api/client'
import { refresh, useMay } from '../../api/queries'
import { useWrite } from '../../api/write'
import { useNotice } from '../../shell/notice'
import { NoReed, ReedShape, reedWords } from './ReedShape'

type Chair = Schemas['Chair']

const tone: Record<Chair['state'], string> = {
  ready: '',
  short: 'text-warning',
  open: 'text-warning',
  late: 'text-error',
}

type Props = {
  chairs: Chair[]
  strengths: string[]
  endings: Schemas['Named'][]
  names: boolean
  wide?: boolean
}

/** A section with its reeds, chair by chair. One tap on a reed notes what a player holds up. Names can be left out. */
export function Chairs({ chairs, strengths, endings, names, wide = false }: Props) {
  return (
    <ul aria-label="Chairs" className={wide ? 'gap-x-8 xl:columns-2' : ''}>
      {chairs.map((c) => (
        <li key={c.player_id} className="line break-inside-avoid py-1.5">
          <OneChair chair={c} strengths={strengths} endings={endings} names={names} wide={wide} />
        </li>
      ))}
    </ul>
  )
}

function OneChair({ chair: c, strengths, endings, names, wide }: { chair: Chair } & Omit<Props, 'chairs'>) {
  const may = useMay('finish care')
  const notice = useNotice()
  const [picked, setPicked] = useState<string>()
  const reed = c.reeds.find((r) => r.id === picked)
  const discard = useWrite({
    send: (cause: string) =>
      take(
        api.POST('/api/v1/strings-reeds/reeds/{id}/discard', {
          params: { path: { id: picked ?? '' } },
          body: { cause },
        }),
      ),
    onSuccess: async (changed) => {
      setPicked(undefined)
      notice.show(`${c.tag}: the reed is out.`, changed.events)
      await refresh()
    },
    onError: (problem) => notice.show(problem.message),
  })
  const [choosing, setChoosing] = useState(false)
  const [strength, setStrength] = useState(c.strength)
  const [synthetic, setSynthetic] = useState(false)
  const open = useWrite({
    send: (_, id) =>
      take(
        api.POST('/api/v1/strings-reeds/reeds', {
          body: { id: id(), player_id: c.player_id, strength, synthetic, from_stock: !synthetic },
        }),
      ),
    onSuccess: async (changed) => {
      setChoosing(false)
      notice.show(`${c.tag}: a new reed is opened.`, changed.events)
      await refresh()
    },
    onError: (problem) => notice.show(problem.message),
  })
  return (
    <>
      <div className="grid grid-cols-[64px_auto_1fr_auto] items-center gap-x-3">
        <b>{c.tag}</b>
        <span className="flex gap-1">
          {c.reeds.map((r) => (
            <button
              key={r.id}
              className={`cursor-pointer px-1 py-0.5 ${picked === r.id ? 'bg-base-200 outline-2 outline-primary' : ''}`}
              aria-label={`${c.tag}, reed ${String(r.place)}: ${reedWords(r)}`}
              aria-expanded={picked === r.id}
              title={reedWords(r)}
              onClick={() => setPicked(picked === r.id ? undefined : r.id)}
            >
              <ReedShape reed={r} />
            </button>
          ))}
          {c.places.map((n) => (
            <span key={n} className="px-1 py-0.5">
              <NoReed />
            </span>
          ))}
        </span>
        <span className="min-w-0 text-sm">
          {names && <span className="block truncate">{c.player}</span>}
          <span className={tone[c.state]}>{c.says}</span>
        </span>
        {may && (
          <span className="flex items-center gap-1">
            {wide && (
              <button
                className="because px-1"
                aria-label={`${strength || 'which'}: choose the new reed of ${c.tag}`}
                aria-expanded={choosing}
                onClick={() => setChoosing(!choosing)}
              >
                {strength || 'which'}
              </button>
            )}
            <button
              className="btn btn-sm"
              aria-label={`${c.tag}: a new reed is opened`}
              disabled={open.isPending || c.places.length === 0}
              title={c.places.length === 0 ? 'The holder is full' : undefined}
              onClick={() => open.mutate()}
            >
              new
            </button>
          </span>
        )}
      </div>
      {choosing && (
        <p className="mt-1 flex flex-wrap items-center gap-3 bg-base-200 px-2 py-1.5 text-sm">
          <select
            className="select select-sm w-auto"
            aria-label={`Strength of the new reed of ${c.tag}`}
            value={strength}
            onChange={(e) => setStrength(e.currentTarget.value)}
          >
            <option value="">strength not known</option>
            {strengths.map((s) => (
              <option key={s}>{s}</option>
            ))}
          </select>
          <label className="flex items-center gap-1.5">
            <input
              type="checkbox"
              className="checkbox checkbox-sm"
              checked={synthetic}
              onChange={(e) => setSynthetic(e.currentTarget.checked)}
            />
            synthetic: free at once, not from stock
          </label>
        </p>
      )}
      {reed && (
        <p className="mt-1 flex flex-wrap items-center gap-2 bg-base-200 px-2 py-1.5 text-sm">
          <span className="quiet">
            number {reed.place}, {reedWords(reed)}, {Math.round(reed.minutes_played)} minutes played
          </span>
          {may &&
            endings.map((e) => (
              <button
                key={e.key}
                className="btn btn-sm"
                disabled={discard.isPending}
                onClick={() => discard.mutate(e.key)}
              >
                {e.name}
              </button>
            ))}
        </p>
      )}
    </>
  )
}
