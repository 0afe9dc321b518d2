import type { Schemas } from '../../api/client'
import { fullDay, money } from '../../words'
import { useHabits } from './queries'

type Share = Schemas['Share']

const percent = (x: number) => `${String(Math.round(x * 100))} %`

/** Which habits cost most, how sure that is, and which to teach next. */
export function Habits() {
  const { data: h } = useHabits()
  if (!h) return <p className="quiet">Counting…</p>
  if (h.count.all === 0 && h.drills.length === 0)
    return (
      <p>
        Nothing was found and nothing was drilled since {fullDay(h.since)}. Findings of checks and answers of drills are
        counted here.
      </p>
    )
  const first = h.teach[0]
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-8 lg:grid-cols-[minmax(0,1fr)_360px]">
      <section className="min-w-0">
        {first && (
          <p className="text-lg">
            Teach next: <b>{first.name}</b>. {first.right}
          </p>
        )}
        <div
          className="mt-2 overflow-x-auto"
          tabIndex={0}
          role="region"
          aria-label="Habits by what they are worth teaching"
        >
          <table className="table text-base">
            <thead className="text-base-content">
              <tr>
                <th>Habit</th>
                <th className="text-right">Found</th>
                <th className="text-right">Cost</th>
                <th>Missed in drills</th>
              </tr>
            </thead>
            <tbody>
              {h.teach.map((t) => (
                <tr key={t.key}>
                  <td>{t.name}</td>
                  <td className="text-right tabular-nums">{t.found}</td>
                  <td className="text-right tabular-nums">{money(t.cents)}</td>
                  <td>
                    {t.missed.all === 0 ? (
                      <span className="quiet">not drilled yet</span>
                    ) : (
                      <Interval share={t.missed} />
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
        <p className="quiet mt-2 text-sm">
          In the order of cost times how often it is missed. A finding that may come of several habits counts with each.
          {` ${String(h.priced)} of ${String(h.count.all)} findings have a price from a shop; the others count with the usual one, from memory.`}
        </p>
      </section>
      <aside>
        <h2>Avoidable damage</h2>
        <p className="mt-1">
          <b>{percent(h.count.at)}</b> of {h.count.all} findings since {fullDay(h.since)} need not have been; beside the{' '}
          {percent(h.quoted)} that the trade quotes, without a published source.
        </p>
        <Bar share={h.count} quoted={h.quoted} />
        <p className="quiet mt-2 text-sm">{h.why.statement}</p>
        <p className="mt-2">
          {money(h.avoidable_cents)} of {money(h.cents)}.
        </p>
        <h2 className="mt-5">By section</h2>
        <ul>
          {h.sections.map((s) => (
            <li key={s.name} className="line py-1.5">
              <span className="flex justify-between">
                {s.name} <span className="tabular-nums">{money(s.avoidable_cents)}</span>
              </span>
              <Bar share={s.share} quoted={h.quoted} />
            </li>
          ))}
        </ul>
        {h.terms.length > 0 && (
          <>
            <h2 className="mt-5">By term</h2>
            <ul>
              {h.terms.map((t) => (
                <li key={t.name} className="line py-1.5 text-sm">
                  <b>{t.name}</b>: {percent(t.share.at)} of {t.share.all} avoidable
                  {t.answers.all > 0 && `; ${percent(t.answers.at)} of ${String(t.answers.all)} answers right`}
                </li>
              ))}
            </ul>
          </>
        )}
        {h.drills.length > 0 && (
          <>
            <h2 className="mt-5">Drills</h2>
            <ul>
              {h.drills.map((d) => (
                <li key={d.kind + d.class} className="line py-1.5 text-sm">
                  {d.kind}, {d.class || 'by themselves'}: <Interval share={d.missed} /> missed
                </li>
              ))}
            </ul>
          </>
        )}
      </aside>
    </div>
  )
}

/** A share with how far it may be off, in words. */
function Interval({ share }: { share: Share }) {
  return (
    <span className="tabular-nums">
      {percent(share.at)}{' '}
      <span className="quiet text-sm">
        ({percent(share.from)} to {percent(share.to)}, {share.all} answers)
      </span>
    </span>
  )
}

/** A share with its interval on a line from 0 to 1, and the quoted one as a stroke. */
function Bar({ share, quoted }: { share: Share; quoted: number }) {
  return (
    <svg
      viewBox="0 0 100 10"
      preserveAspectRatio="none"
      className="mt-1 h-3 w-full"
      role="img"
      aria-label={`${percent(share.at)}, between ${percent(share.from)} and ${percent(share.to)}`}
    >
      <rect x="0" y="4" width="100" height="2" className="fill-base-300" />
      <rect
        x={share.from * 100}
        y="2"
        width={Math.max(0.5, (share.to - share.from) * 100)}
        height="6"
        className="fill-primary/35"
      />
      <rect x={share.at * 100 - 0.6} y="0" width="1.2" height="10" className="fill-primary" />
      <rect x={quoted * 100 - 0.3} y="0" width="0.6" height="10" className="fill-base-content" />
    </svg>
  )
}
