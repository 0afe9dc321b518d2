import { useState } from 'react'
import { api, take, type Schemas } from '../../api/client'
import { refresh, useMentions } from '../../api/queries'
import { useWrite } from '../../api/write'
import { useNotice } from '../../shell/notice'
import { nearDay } from '../../words'

type Mention = Schemas['Mention']
type How = Mention['suggests']

const ways: Record<How, string> = {
  name: 'Take out the name',
  whole: 'Take out all of it',
  leave: 'Leave it as it is',
}

/** What people typed about a player who has left is looked at before they are erased for good. */
export function Erasing({ player, onErased }: { player: Schemas['ListedPlayer']; onErased: () => void }) {
  const notice = useNotice()
  const { data: mentions, error, refetch } = useMentions(player.id)
  const [chosen, setChosen] = useState<Record<string, How>>({})
  const howOf = (m: Mention) => chosen[m.text] ?? m.suggests
  const erase = useWrite({
    send: (texts: Schemas['ErasedText'][]) =>
      take(api.POST('/api/v1/players/{id}/erase', { params: { path: { id: player.id } }, body: { texts } })),
    onSuccess: async () => {
      notice.show('Erased. The instruments keep their history.')
      onErased()
      await refresh()
    },
    onError: () => void refetch(),
  })
  if (error)
    return (
      <p role="alert" className="text-error sm:col-span-3">
        {error.message}
      </p>
    )
  if (!mentions) return <p className="quiet sm:col-span-3">Looking through what was typed …</p>
  const named = mentions.filter((m) => m.names.length > 0)
  const during = mentions.filter((m) => m.names.length === 0)
  return (
    <section aria-label={`Erasing ${player.name}`} className="mt-2 border-t border-base-300 pt-3 sm:col-span-3">
      <p>
        Their name, year, measurements, guardian, signatures and the notices to them go for good. What the instruments
        went through stays, without the name.
      </p>
      {named.length > 0 && (
        <>
          <h4 className="mt-3 font-bold">What people typed, with the name in it</h4>
          <Texts of={named} howOf={howOf} choose={(text, how) => setChosen({ ...chosen, [text]: how })} />
        </>
      )}
      {during.length > 0 && (
        <>
          <h4 className="mt-3 font-bold">Typed about their instruments while they had them; nobody is named</h4>
          <Texts of={during} howOf={howOf} choose={(text, how) => setChosen({ ...chosen, [text]: how })} />
        </>
      )}
      {mentions.length === 0 && <p className="quiet mt-2">Nothing else that was typed names them.</p>}
      {erase.error && (
        <p role="alert" className="mt-2 text-error">
          {erase.error.message}
        </p>
      )}
      <button
        type="button"
        className="btn btn-outline btn-error btn-sm mt-3"
        disabled={erase.isPending}
        onClick={() => erase.mutate(mentions.map((m) => ({ text: m.text, how: howOf(m) })))}
      >
        Erase for good: no way back
      </button>
    </section>
  )
}

function Texts(props: { of: Mention[]; howOf: (m: Mention) => How; choose: (text: string, how: How) => void }) {
  return (
    <ul className="divide-y divide-base-300">
      {props.of.map((m) => {
        const how = props.howOf(m)
        return (
          <li key={m.text} className="grid gap-x-4 gap-y-1 py-2 sm:grid-cols-[1fr_14rem]">
            <div>
              <p className={how === 'whole' ? 'line-through' : ''}>“{how === 'name' ? m.without : m.text}”</p>
              <p className="quiet text-sm">
                {m.places.map((p) => [p.what, p.tag, p.on && nearDay(p.on)].filter(Boolean).join(' · ')).join('; ')}
              </p>
              <p className="quiet text-sm">{m.because}</p>
            </div>
            <select
              className="select select-sm w-full"
              aria-label={`What becomes of “${m.text}”`}
              value={how}
              onChange={(e) => props.choose(m.text, e.target.value as How)}
            >
              {(Object.keys(ways) as How[])
                .filter((way) => way !== 'name' || m.names.length > 0)
                .map((way) => (
                  <option key={way} value={way}>
                    {ways[way]}
                  </option>
                ))}
            </select>
          </li>
        )
      })}
    </ul>
  )
}
