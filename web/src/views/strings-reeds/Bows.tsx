import { useState } from 'react'
import { Link } from 'react-router'
import { api, take, type Schemas } from '../../api/client'
import { refresh, useBows, useMay } from '../../api/queries'
import { useAsSeen } from '../../api/seen'
import { useWrite } from '../../api/write'
import { Mark, markOf } from '../../marks/Mark'
import { useNotice } from '../../shell/notice'
import { Reason } from '../../shell/why'
import { centsOf, fullDay, money, nearDay, typedCents } from '../../words'
import { often } from './Strings'

/** Each bow: its hair, what to do when that is done, how often its player rosins. */
export function Bows() {
  const { data, error } = useBows()
  if (error && !data) return <p role="alert">{error.message}</p>
  if (!data) return <p className="quiet">Sighting along the sticks…</p>
  if (data.bows.length === 0) return <p>There is no bow yet.</p>
  return (
    <div className="grid gap-x-10 gap-y-6 lg:grid-cols-[1fr_260px]">
      <section aria-label="Bows">
        <p className="quiet text-sm">
          New hair costs {money(data.rehair_cents)}
          {data.own_price ? '' : ', a usual price'}{' '}
          <Link to="/settings/school" className="because">
            change
          </Link>
        </p>
        <ul className="mt-1">
          {data.bows.map((b) => (
            <OneBow key={b.instrument_id} bow={b} />
          ))}
        </ul>
      </section>
      <aside className="text-sm">
        <h2>How tight</h2>
        <p className="quiet">Both are right.</p>
        <Tension of={data.tensions[0]} pencil />
        <Tension of={data.tensions[1]} />
        <h2 className="mt-4">What guards the stick</h2>
        {data.guards.map((g) => (
          <p key={g.name} className="mt-1.5">
            <b>{g.name}.</b> {g.says}
          </p>
        ))}
        <p className="mt-3">
          <b>Never</b> touch or wash the hair, and slacken it after playing.
        </p>
      </aside>
    </div>
  )
}

function OneBow({ bow: b }: { bow: Schemas['Bow'] }) {
  const [asked, setAsked] = useState(false)
  const hair = b.state === 'late' || b.state === 'due'
  return (
    <li className="line py-1.5">
      <div className="grid grid-cols-[26px_64px_1fr_auto] items-center gap-x-3 sm:grid-cols-[26px_64px_1fr_130px_110px_auto]">
        <Mark name={markOf[b.state]} />
        <Link to={`/instruments/${b.instrument_id}`} className="font-bold">
          {b.tag}
        </Link>
        <span className="text-sm">
          {hair ? (
            <b className={b.state === 'late' ? 'text-error' : 'text-warning'}>{adviceOn(b)}</b>
          ) : (
            <span>Hair until {b.due_on ? nearDay(b.due_on) : 'later'}</span>
          )}{' '}
          <span className="quiet">
            {Math.round(b.hours)} h played{b.put_on ? ` since ${fullDay(b.put_on)}` : ''}
            {b.signs.length > 0 && ` · ${b.signs.join(', ')}`}
          </span>
        </span>
        <Value bow={b} />
        <span className="quiet hidden text-sm sm:block">
          {b.holder ? `rosin ${often(b.rosin.times_per_week)}` : ''}
        </span>
        <button className="because" aria-label={`Why: ${b.tag}`} aria-expanded={asked} onClick={() => setAsked(!asked)}>
          why
        </button>
      </div>
      {asked && (
        <div className="ml-9">
          {b.advice ? (
            <Reason reason={b.advice.why} />
          ) : (
            <p className="text-sm">
              New hair or a new bow? That depends on what it is worth. Say so, and the sum is made with it.
            </p>
          )}
          {b.holder && <Reason reason={b.rosin.why} />}
        </div>
      )}
    </li>
  )
}

/** What to do when its hair is done; nothing is advised while nobody has said what it is worth. */
const adviceOn = (b: Schemas['Bow']) =>
  b.advice === undefined
    ? 'Hair is due: say what the bow is worth'
    : b.advice.choice === 'new'
      ? 'Buy a new, light, straight one'
      : 'Rehair it'

/** What a bow is worth; it decides between new hair and a new bow. */
function Value({ bow: b }: { bow: Schemas['Bow'] }) {
  const may = useMay('change instruments')
  const notice = useNotice()
  const [text, setText] = useState<string>()
  const seen = useAsSeen(b.version, text !== undefined)
  const save = useWrite({
    send: (cents: number | null) =>
      take(
        api.PUT('/api/v1/instruments/{id}/bow', {
          params: { path: { id: b.instrument_id }, query: { version: seen } },
          body: cents === null ? {} : { value_cents: cents },
        }),
      ),
    onSuccess: async () => {
      setText(undefined)
      await refresh()
    },
    onError: (problem) => notice.show(problem.message),
  })
  if (!may)
    return (
      <span className="quiet hidden text-sm sm:block">{b.value_cents === undefined ? '' : money(b.value_cents)}</span>
    )
  const keep = () => {
    if (text === undefined || text === typedCents(b.value_cents)) return
    const cents = centsOf(text)
    if (Number.isNaN(cents)) notice.show(`“${text}” is no amount. Write it as 120.00.`)
    else save.mutate(cents)
  }
  return (
    <label className="order-last col-span-2 col-start-3 flex sm:order-none items-center gap-1.5 text-sm sm:col-span-1 sm:col-start-auto">
      <span className="quiet">worth</span>
      <input
        className="input input-sm w-20 text-right"
        inputMode="decimal"
        aria-label={`Worth of the bow of ${b.tag}`}
        placeholder="?"
        value={text ?? typedCents(b.value_cents)}
        onChange={(e) => setText(e.currentTarget.value)}
        onBlur={keep}
        onKeyDown={(e) => {
          if (e.key === 'Enter') keep()
        }}
      />
    </label>
  )
}

/** The middle of a bow, seen from the side. */
function Tension({ of, pencil = false }: { of: Schemas['Hint'] | undefined; pencil?: boolean }) {
  if (!of) return null
  return (
    <figure className="mt-2">
      <svg viewBox="0 0 220 52" className="w-full" role="img" aria-label={of.says}>
        <path
          d="M6 14 Q110 30 214 12"
          fill="none"
          strokeWidth="6"
          strokeLinecap="round"
          className="stroke-base-content"
        />
        <path d="M6 40 H214" strokeWidth="2.4" className="stroke-primary" />
        <path d="M6 14 V40 M214 12 V40" strokeWidth="4" className="stroke-base-content" />
        {pencil ? (
          <circle cx="110" cy="32.6" r="6.2" className="fill-warning stroke-base-content" strokeWidth="1.2" />
        ) : (
          <path
            d="M110 26 V39 M106 28.5 L110 25.5 L114 28.5 M106 36.5 L110 39.5 L114 36.5"
            fill="none"
            strokeWidth="1.4"
            className="stroke-warning"
          />
        )}
      </svg>
      <figcaption>
        <b>{of.name}.</b> {of.says}
      </figcaption>
    </figure>
  )
}
