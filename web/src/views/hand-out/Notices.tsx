import { useState } from 'react'
import { Link } from 'react-router'
import { api, take, type Schemas } from '../../api/client'
import { refresh, useMay, useNotices } from '../../api/queries'
import { useWrite } from '../../api/write'
import { useNotice } from '../../shell/notice'
import { count, moment } from '../../words'

/** What could be written to players and guardians, each as it would go out; and the simulated outbox. */
export function Notices() {
  const { data: notices, error } = useNotices()
  const mayWord = useMay('change settings')
  const bar = useNotice()
  const [left, setLeft] = useState<string[]>([]) // not to be sent this time
  const [open, setOpen] = useState<string>()
  const send = useWrite({
    send: (about: string[]) => take(api.POST('/api/v1/notices', { body: { about } })),
    onSuccess: async (_, about) => {
      bar.show(`${count(about.length, 'notice')} in the simulated outbox. Nothing leaves it.`)
      await refresh()
    },
    onError: async (problem) => {
      bar.show(problem.message)
      await refresh()
    },
  })
  if (error && !notices) return <p role="alert">{error.message}</p>
  if (!notices) return <p className="quiet">Sharpening the pencil…</p>
  const chosen = notices.proposed.filter((n) => !left.includes(n.about))
  return (
    <div className="grid gap-8 lg:grid-cols-[1fr_340px]">
      <section aria-label="To be sent">
        <div className="flex flex-wrap items-center gap-3">
          <p>
            {notices.proposed.length === 0
              ? 'Nothing has to be written. Returns two weeks ahead, gaps in kits, charges and ends of rentals come here.'
              : `${count(notices.proposed.length, 'notice')} could be sent.`}
          </p>
          {chosen.length > 0 && (
            <button
              className="btn btn-primary btn-sm ml-auto"
              disabled={send.isPending}
              onClick={() => send.mutate(chosen.map((n) => n.about))}
            >
              Send {chosen.length} (simulated)
            </button>
          )}
        </div>
        <ul className="mt-2">
          {notices.proposed.map((n) => (
            <li key={n.about} className="line py-1.5">
              <div className="flex items-start gap-3">
                <input
                  type="checkbox"
                  className="checkbox checkbox-sm mt-1"
                  aria-label={`Send: ${n.subject}, ${n.player}`}
                  checked={!left.includes(n.about)}
                  onChange={(e) =>
                    setLeft(e.currentTarget.checked ? left.filter((a) => a !== n.about) : [...left, n.about])
                  }
                />
                <span className="min-w-0 flex-1">
                  <b>{n.subject}</b> <span className="quiet text-sm">to {n.addressed_to}</span>
                </span>
                <button
                  className="because"
                  aria-expanded={open === n.about}
                  aria-label={`read it: ${n.subject}, ${n.player}`}
                  onClick={() => setOpen(open === n.about ? undefined : n.about)}
                >
                  read it
                </button>
              </div>
              {open === n.about && <Letter subject={n.subject} body={n.body} />}
            </li>
          ))}
        </ul>
        {mayWord && (
          <p className="mt-3 text-sm">
            <Link className="link" to="/settings/letters">
              How they are worded
            </Link>
          </p>
        )}
        <Unsigned list={notices.unsigned} />
      </section>
      <aside>
        <h2>Simulated outbox</h2>
        <p className="quiet text-sm">It stands in for a mail server: what lies here was never sent to anybody.</p>
        <ul>
          {notices.sent.map((n) => (
            <li key={n.id} className="line py-1.5 text-sm">
              <b>{n.subject}</b>
              <span className="quiet block">
                {moment(n.sent_at)}, to {n.addressed_to} ·{' '}
                <a className="link" href={`/api/v1/notices/${n.id}/message.eml`} aria-label={`Message: ${n.subject}`}>
                  message
                </a>
              </span>
            </li>
          ))}
        </ul>
        {notices.sent.length === 0 && <p className="quiet mt-1">Empty.</p>}
        {notices.more && <p className="quiet mt-1 text-sm">Older ones are not listed.</p>}
      </aside>
    </div>
  )
}

const Letter = ({ subject, body }: { subject: string; body: string }) => (
  <div className="mt-2 ml-8 max-w-xl rounded-lg bg-base-200 p-3 text-sm whitespace-pre-line">
    <b>{subject}</b>
    {'\n\n'}
    {body}
  </div>
)

/** Who has an instrument and has not signed for it. */
function Unsigned({ list }: { list: Schemas['Unsigned'][] }) {
  const notice = useNotice()
  const [by, setBy] = useState<Record<string, string>>({})
  const sign = useWrite({
    send: (u: Schemas['Unsigned']) =>
      take(
        api.POST('/api/v1/hand-overs/{id}/signature', {
          params: { path: { id: u.hand_over } },
          body: { how: 'paper', by: by[u.hand_over] ?? u.player },
        }),
      ),
    onSuccess: async (_, u) => {
      notice.show(`The agreement for ${u.tag} is here.`)
      await refresh()
    },
    onError: (problem) => notice.show(problem.message),
  })
  if (list.length === 0) return null
  return (
    <section aria-label="Not signed" className="mt-6">
      <h2>{count(list.length, 'agreement')} not signed</h2>
      <ul>
        {list.map((u) => (
          <li key={u.hand_over} className="line flex flex-wrap items-center gap-x-3 gap-y-1 py-1.5">
            <Link to={`/instruments/${u.instrument_id}`} className="w-20 font-bold tracking-wide">
              {u.tag}
            </Link>
            <span className="flex-1">
              {u.player} <span className="quiet text-sm">since {moment(u.given_at)}</span>
            </span>
            <a
              className="because"
              href={`/api/v1/hand-overs/${u.hand_over}/agreement.pdf`}
              target="_blank"
              rel="noreferrer"
              aria-label={`Print the agreement for ${u.tag}`}
            >
              print
            </a>
            <input
              className="input input-sm w-40"
              aria-label={`Who signed for ${u.tag}`}
              value={by[u.hand_over] ?? u.player}
              onChange={(e) => setBy({ ...by, [u.hand_over]: e.currentTarget.value })}
            />
            <button className="btn btn-sm" aria-label={`It is here: ${u.tag}`} onClick={() => sign.mutate(u)}>
              It is here
            </button>
          </li>
        ))}
      </ul>
    </section>
  )
}
