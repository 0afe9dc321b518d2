import type { Schemas } from '../../api/client'
import { api, take } from '../../api/client'
import { refresh, useLasting, useMay } from '../../api/queries'
import { useWrite } from '../../api/write'
import { useNotice } from '../../shell/notice'
import { count, inText } from '../../words'

type Life = Schemas['Lasting']

/** How long strings, hair and rosin last here: what the school's own record says, beside what the trade says. */
export function Lasting() {
  const { data, error } = useLasting()
  if (error && !data) return <p role="alert">{error.message}</p>
  if (!data) return <p className="quiet">Counting the years…</p>
  if (data.length === 0)
    return (
      <p>Nothing was renewed yet. Each string that is changed with its cause makes this page know a little more.</p>
    )
  const ordered = [...data].sort((a, b) => b.ended - a.ended)
  return (
    <>
      <p className="quiet max-w-[80ch] text-sm">
        Each part that came to its end tells how long one lasts. Those still in use, and those that were renewed while
        they were sound, have lasted at least so long and count as that. An interval of the school’s own is offered from
        eight ends on.
      </p>
      <div className="mt-2 grid gap-x-12 gap-y-2 lg:grid-cols-2">
        {ordered.map((l) => (
          <OneLasting key={l.kind + l.routine} life={l} />
        ))}
      </div>
    </>
  )
}

function OneLasting({ life: l }: { life: Life }) {
  const may = useMay('change settings')
  const notice = useNotice()
  const accept = useWrite({
    send: (yes: boolean) =>
      take(
        api.PUT('/api/v1/strings-reeds/lasting', {
          params: { query: { version: l.version } },
          body: { kind: l.kind, routine: l.routine, accept: yes },
        }),
      ),
    onSuccess: async (now) => {
      notice.show(
        now.accepted === undefined
          ? `${l.kind_name}: the trade’s figure holds again.`
          : `${l.kind_name}: due after ${count(now.accepted, 'day')} from now on.`,
      )
      await refresh()
    },
    onError: (problem) => notice.show(problem.message),
  })
  return (
    <section aria-label={`${l.kind_name}: ${l.title}`} className="border-t border-base-300 py-3">
      <h2>
        {l.kind_name}: {inText(l.title)}
      </h2>
      <p className="mt-0.5">{l.statement}</p>
      <Curve life={l} />
      <p className="quiet text-sm">
        {count(l.lives, 'life', 'lives')}, {l.ended} ended
        {l.days.median !== null && ` · half by ${String(Math.round(l.days.median))} days`}
        {l.hours !== undefined && ` · a fifth by ${String(Math.round(l.hours))} h of playing`}
        {l.trade !== undefined && ` · the trade: ${String(l.trade)} days (${l.trade_basis})`}
      </p>
      {l.parts.length > 0 && (
        <p className="quiet text-sm">
          {l.parts
            .map(
              (p) =>
                `${p.name} ${p.median === undefined ? '' : `${String(Math.round(p.median))} d `}(${String(p.ended)})`,
            )
            .join(' · ')}
        </p>
      )}
      {l.compared.map((c) => (
        <p key={c.a + c.b} className="mt-1 text-sm">
          <b>
            {c.a} and {c.b}:
          </b>{' '}
          {l.products
            .filter((p) => p.product === c.a || p.product === c.b)
            .map(
              (p) =>
                `${p.product} ${p.median === undefined ? 'not half yet' : `half by ${String(Math.round(p.median))} days`}`,
            )
            .join(', ')}
          . {c.statement}
        </p>
      ))}
      {may && (
        <p className="mt-2 flex flex-wrap items-center gap-3">
          {l.accepted !== undefined && (
            <>
              <span>
                The school’s own interval holds: <b>{count(l.accepted, 'day')}</b>
              </span>
              <button className="btn btn-sm" disabled={accept.isPending} onClick={() => accept.mutate(false)}>
                Back to the trade’s figure
              </button>
            </>
          )}
          {l.offered !== undefined && l.offered !== l.accepted && (
            <button className="btn btn-primary btn-sm" disabled={accept.isPending} onClick={() => accept.mutate(true)}>
              Change them after {count(l.offered, 'day')}
            </button>
          )}
        </p>
      )}
    </section>
  )
}

/** The share that is left over the days, with its band of one error in twenty, and the trade's figure as a line. */
function Curve({ life: l }: { life: Life }) {
  const steps = l.days.kaplan_meier
  const last = steps[steps.length - 1]
  if (!last) return null
  const most = Math.max(last.time * 1.08, (l.trade ?? 0) * 1.08, l.accepted ?? 0)
  const [width, height] = [420, 120]
  const x = (t: number) => (t / most) * width
  const y = (s: number) => 6 + (1 - Math.max(0, Math.min(1, s))) * (height - 12)
  const stair = (of: (s: (typeof steps)[number]) => number) => {
    let d = `M0 ${String(y(1))}`
    for (const s of steps) d += ` H${x(s.time).toFixed(1)} V${y(of(s)).toFixed(1)}`
    return `${d} H${String(width)}`
  }
  const low = (s: (typeof steps)[number]) => s.low
  const high = (s: (typeof steps)[number]) => s.high
  const back = [...steps].reverse()
  let band = stair(high)
  band += ` V${y(back[0] ? low(back[0]) : 1).toFixed(1)}`
  for (const [n, s] of back.entries()) {
    const before = back[n + 1]
    band += ` H${x(s.time).toFixed(1)} V${y(before ? low(before) : 1).toFixed(1)}`
  }
  const marks = [
    { at: l.trade, says: 'the trade', tone: 'stroke-warning fill-warning' },
    {
      at: l.accepted ?? l.offered,
      says: l.accepted === undefined ? 'a fifth ended' : 'accepted',
      tone: 'stroke-primary fill-primary',
    },
  ].filter((m): m is { at: number; says: string; tone: string } => m.at !== undefined)
  return (
    <svg
      viewBox={`-36 -2 ${String(width + 44)} ${String(height + 26)}`}
      className="my-1 w-full max-w-[520px]"
      role="img"
      aria-label={`Share that is left: ${steps
        .filter((_, n) => n % Math.ceil(steps.length / 6) === 0)
        .map((s) => `${String(Math.round(100 * s.survival))} % after ${String(Math.round(s.time))} days`)
        .join(', ')}`}
    >
      {[0, 0.5, 1].map((s) => (
        <g key={s}>
          <path d={`M0 ${String(y(s))}H${String(width)}`} className="stroke-base-300" strokeWidth="1" />
          <text x="-4" y={y(s) + 3.5} textAnchor="end" fontSize="11" className="fill-secondary">
            {s === 1 ? 'all' : s === 0 ? 'none' : 'half'}
          </text>
        </g>
      ))}
      <path d={`${band} Z`} className="fill-primary" opacity="0.14" />
      <path d={stair((s) => s.survival)} fill="none" className="stroke-base-content" strokeWidth="1.8" />
      {marks.map((m, n) => (
        <g key={m.says} className={m.tone}>
          <path d={`M${x(m.at).toFixed(1)} 0V${String(height)}`} strokeWidth="1.5" strokeDasharray="4 3" />
          <text
            x={x(m.at) + (x(m.at) > width * 0.75 ? -4 : 4)}
            y={12 + n * 14}
            fontSize="12"
            stroke="none"
            textAnchor={x(m.at) > width * 0.75 ? 'end' : 'start'}
          >
            {m.says}, {m.at} d
          </text>
        </g>
      ))}
      <text x={width} y={height + 14} textAnchor="end" fontSize="11" className="fill-secondary">
        {Math.round(most)} days
      </text>
    </svg>
  )
}
