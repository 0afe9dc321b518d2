import { useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { api, take, type Schemas } from '../../api/client'
import { refresh, useBench, useBenchPlan, useMay } from '../../api/queries'
import { useWrite } from '../../api/write'
import { Mark } from '../../marks/Mark'
import { clockTime, count } from '../../words'
import { AddToBatch } from './AddToBatch'
import { Crew, type Hands } from './Crew'
import { Plan } from './Plan'
import { Unnamed } from './Unnamed'
import { reasonWords } from './words'

type Reason = Schemas['OnBench']['reason']

/** What waits for the bench, picked into a batch, beside how that batch would go. */
export function Waiting() {
  const { data: bench, error } = useBench()
  if (error && !bench) return <p role="alert">{error.message}</p>
  if (!bench) return <p className="quiet">Wiping the table…</p>
  return <Batch bench={bench} />
}

const keyOf = (f: Schemas['ForBench']) => `${f.instrument_id}/${f.reason}`

function Batch({ bench }: { bench: Schemas['Bench'] }) {
  const [picked, setPicked] = useState<Record<string, Reason>>(() =>
    Object.fromEntries(bench.waiting.filter((f) => f.held).map((f) => [keyOf(f), f.reason])),
  )
  const [hands, setHands] = useState<Hands>(() => ({
    people: bench.people,
    stations: Object.fromEntries(bench.stations.map((s) => [s.key, s.count])),
    minutes: null,
  }))
  const [products, setProducts] = useState<Record<string, string>>({})
  const [others, setOthers] = useState<Schemas['ForBench'][]>([])
  const may = useMay('finish care')
  const navigate = useNavigate()
  const chosen = [...bench.waiting, ...others].filter((f) => picked[keyOf(f)])
  const body: Schemas['Benching'] = {
    instruments: chosen.map((f) => ({ instrument_id: f.instrument_id, reason: picked[keyOf(f)] ?? f.reason })),
    people: hands.people,
    stations: hands.stations,
    products,
    ...(hands.minutes ? { minutes: hands.minutes } : {}),
  }
  const plan = useBenchPlan(body)
  const begin = useWrite({
    send: () => take(api.POST('/api/v1/bench/runs', { body })),
    onSuccess: async (run) => {
      await refresh()
      await navigate(`/bench/runs/${run.id}`)
    },
  })
  const pick = (f: Schemas['ForBench'], reason: Reason | null) =>
    setPicked((all) => {
      const rest = Object.fromEntries(Object.entries(all).filter(([k]) => !k.startsWith(f.instrument_id)))
      return reason ? { ...rest, [keyOf(f)]: reason } : rest
    })
  const add = (i: Schemas['Listed'], reason: Reason) => {
    const known = bench.waiting.find((f) => f.instrument_id === i.id && (f.held || f.reason === reason))
    const entry: Schemas['ForBench'] = known ?? {
      ...{ instrument_id: i.id, tag: i.tag, kind_name: i.kind_name, room: i.room, slot: i.slot, held: false },
      ...{ because: i.holder ? `with ${i.holder}` : 'brought by hand', reason, title: reasonWords[reason], minutes: 0 },
    }
    if (!known) setOthers((all) => [...all.filter((f) => f.instrument_id !== i.id), entry])
    pick(entry, known?.held && reason === 'illness' ? 'illness' : entry.reason)
  }
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-x-10 gap-y-6 lg:grid-cols-[minmax(0,360px)_minmax(0,1fr)]">
      <section aria-label="Waiting">
        <Unnamed />
        {bench.runs.map((r) => (
          <p key={r.id} className="mb-2 border-l-3 border-primary pl-3">
            <Link className="link font-bold" to={`/bench/runs/${r.id}`}>
              Go on with the work of {clockTime(r.began_at)}
            </Link>
            <span className="quiet">
              {' '}
              {r.open} of {count(r.instruments, 'instrument')} to do
            </span>
          </p>
        ))}
        {bench.products === 0 && (
          <p role="alert" className="mb-2 text-error">
            The school has no product that may be used now.{' '}
            <Link className="link" to="/settings/products">
              Enter what stands in the cupboard
            </Link>
          </p>
        )}
        {bench.waiting.length === 0 && <p>Nothing waits for the bench.</p>}
        <Group
          title="Held, waiting for the bench"
          list={bench.waiting.filter((f) => f.held)}
          picked={picked}
          onPick={pick}
        />
        <Group title="Brought by hand" list={others} picked={picked} onPick={pick} />
        <Group
          title="Due, and done at the bench"
          list={bench.waiting.filter((f) => !f.held)}
          picked={picked}
          onPick={pick}
        />
        {may && <AddToBatch onAdd={add} />}
        {bench.resting.length > 0 && (
          <>
            <h2 className="mt-5">Drying</h2>
            <ul>
              {bench.resting.map((r) => (
                <li key={r.instrument_id} className="line flex gap-3 py-1.5">
                  <Link to={`/instruments/${r.instrument_id}`} className="font-bold tracking-wide">
                    {r.tag}
                  </Link>
                  <span className="quiet">
                    {r.kind_name}, free {clockTime(r.free_at, true)}
                  </span>
                </li>
              ))}
            </ul>
          </>
        )}
      </section>
      <section aria-label="Plan">
        <Crew hands={hands} stations={bench.stations} used={plan.data?.lanes ?? []} onChange={setHands} />
        {plan.error && (
          <p role="alert" className="mt-3 text-error">
            {plan.error.message}
          </p>
        )}
        {chosen.length === 0 ? (
          <p className="quiet mt-4">Pick what comes to the bench, and here stands how it would go.</p>
        ) : plan.data ? (
          <>
            <Plan
              plan={plan.data}
              onPrefer={(surface, product) => setProducts((all) => ({ ...all, [surface]: product }))}
              begin={
                may &&
                plan.data.bars.length > 0 && (
                  <button
                    className="btn btn-primary"
                    disabled={begin.isPending || plan.isFetching}
                    onClick={() => begin.mutate()}
                  >
                    Begin
                  </button>
                )
              }
            />
            {begin.error && (
              <p role="alert" className="mt-2 text-error">
                {begin.error.message}
              </p>
            )}
          </>
        ) : (
          <p className="quiet mt-4">Working out who does what when…</p>
        )}
      </section>
    </div>
  )
}

type GroupProps = {
  title: string
  list: Schemas['ForBench'][]
  picked: Record<string, Reason>
  onPick: (f: Schemas['ForBench'], reason: Reason | null) => void
}

function Group({ title, list, picked, onPick }: GroupProps) {
  const [all, setAll] = useState(false)
  if (list.length === 0) return null
  const shown = all ? list : list.slice(0, 12)
  return (
    <>
      <h2 className="mt-3 flex items-center gap-1.5 first:mt-0">
        {list[0]?.held && <Mark name="held" />}
        {title} <span className="quiet text-base">{list.length}</span>
      </h2>
      <ul>
        {shown.map((f) => {
          const reason = picked[keyOf(f)]
          return (
            <li key={keyOf(f)} className="line grid grid-cols-[auto_1fr_auto] items-center gap-x-3 py-1.5">
              <input
                type="checkbox"
                className="checkbox"
                aria-label={`${f.tag}: ${f.title}`}
                checked={reason !== undefined}
                onChange={(e) => onPick(f, e.currentTarget.checked ? f.reason : null)}
              />
              <span className="min-w-0">
                <Link to={`/instruments/${f.instrument_id}`} className="font-bold tracking-wide">
                  {f.tag}
                </Link>{' '}
                {f.kind_name}
                <span className="quiet block truncate text-sm">{f.because}</span>
              </span>
              {f.held && (f.reason === 'turnover' || f.reason === 'illness') ? (
                <select
                  className="select select-xs w-26"
                  aria-label={`Why ${f.tag} is here`}
                  value={reason ?? f.reason}
                  onChange={(e) => onPick(f, e.currentTarget.value as Reason)}
                >
                  {(['turnover', 'illness'] as const).map((r) => (
                    <option key={r} value={r}>
                      {reasonWords[r]}
                    </option>
                  ))}
                </select>
              ) : (
                <span className="quiet text-sm">{reasonWords[f.reason]}</span>
              )}
            </li>
          )
        })}
      </ul>
      {list.length > shown.length && (
        <button className="because mt-1" onClick={() => setAll(true)}>
          show all {list.length}
        </button>
      )}
    </>
  )
}
