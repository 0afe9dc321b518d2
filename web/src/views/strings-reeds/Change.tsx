import { useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { api, Problem, take, type Schemas } from '../../api/client'
import { refresh, useGuide, useMay } from '../../api/queries'
import { useWrite } from '../../api/write'
import { Caution } from '../../shell/Caution'
import { useNotice } from '../../shell/notice'
import { Otherwise } from '../../shell/Otherwise'
import { count, fullDay, longDay } from '../../words'

type Guide = Schemas['Guide']

/** Leads through the change of one string or another part, step by step; what whips or cuts is said before the step. */
export default function Change() {
  const { id = '', part = '' } = useParams()
  const { data: guide, error } = useGuide(id, part)
  if (error && !guide)
    return (
      <p role="alert">
        {error.message}{' '}
        <Link className="link" to="/strings-reeds/strings">
          Strings
        </Link>
      </p>
    )
  if (!guide) return <p className="quiet">Laying out the tools…</p>
  return <Guided key={`${id}/${part}`} guide={guide} />
}

const phases = [
  ['before', 'Before'],
  ['during', 'The change'],
  ['after', 'After'],
] as const

function Guided({ guide: g }: { guide: Guide }) {
  const may = useMay('finish care')
  const [ticked, setTicked] = useState<ReadonlySet<number>>(new Set())
  const [begun, setBegun] = useState(g.cautions.length === 0)
  const [snaps, setSnaps] = useState(0)
  const steps = g.steps.map((step, n) => ({ step, n }))
  const named = phases.filter(([key]) => steps.some(({ step }) => step.phase === key))
  const groups = named.length > 0 ? named : ([['', 'Steps']] as const)
  const left = steps.filter(({ n }) => !ticked.has(n)).length
  const toggle = (n: number) => {
    const next = new Set(ticked)
    if (!next.delete(n)) next.add(n)
    setTicked(next)
  }
  return (
    <div className="grid gap-x-10 gap-y-6 lg:grid-cols-[minmax(0,1fr)_330px]">
      <section>
        <h1>
          {g.tag}: {g.now.name}
        </h1>
        <p className="quiet">
          {g.kind_name}, {wear(g.now)}
        </p>
        {g.warning && (
          <p role="alert" className="mt-2 border-l-4 border-error bg-base-200 px-3 py-2">
            {g.warning}
          </p>
        )}
        {g.cautions.length > 0 && (
          <div className="mt-3">
            {g.cautions.map((c) => (
              <Caution key={c}>{c}</Caution>
            ))}
            {!begun && (
              <button className="btn btn-primary mt-2" onClick={() => setBegun(true)}>
                Read, begin
              </button>
            )}
          </div>
        )}
        {begun && (
          <>
            <p className="mt-3 text-sm">
              <b>At hand:</b> {g.tools.join(', ')}
            </p>
            {groups.map(([key, name]) => (
              <section key={key} aria-label={name} className="mt-3">
                <h2>{name}</h2>
                <ol>
                  {steps
                    .filter(({ step }) => key === '' || (step.phase ?? 'during') === key)
                    .map(({ step, n }) => (
                      <StepToTick key={n} step={step} on={ticked.has(n)} onToggle={() => toggle(n)} />
                    ))}
                </ol>
              </section>
            ))}
          </>
        )}
        {g.choices.map((c) => (
          <div key={c.practice} className="mt-3 text-sm">
            <p className="quiet">
              {c.title}: {c.option.name}.
            </p>
            <Otherwise held={c.others} />
          </div>
        ))}
      </section>
      {may && (
        <Putting
          guide={g}
          begun={begun}
          left={left}
          snaps={snaps}
          onSnapped={() => {
            setSnaps(snaps + 1)
            setTicked(new Set(steps.filter(({ step }) => step.phase === 'before').map(({ n }) => n)))
          }}
        />
      )}
    </div>
  )
}

function wear(on: Schemas['On']) {
  const since = on.put_on ? `on since ${fullDay(on.put_on)}` : 'on since before anybody noted it'
  return `${on.product ? `${on.product}, ` : ''}${since}, ${String(Math.round(on.hours))} h played${
    on.due_on ? `, due ${fullDay(on.due_on)}` : ''
  }`
}

function StepToTick({ step, on, onToggle }: { step: Schemas['ResolvedStep']; on: boolean; onToggle: () => void }) {
  return (
    <li className="line py-2">
      {step.caution && (
        <p className="mb-1 border-l-4 border-warning pl-2 text-sm font-bold text-warning">{step.caution}</p>
      )}
      <label className="flex cursor-pointer items-start gap-3">
        <input type="checkbox" className="checkbox mt-0.5" checked={on} onChange={onToggle} />
        <span className={on ? 'quiet' : ''}>
          {step.do}
          {step.reason && <span className="quiet block text-sm">{step.reason}</span>}
          {step.gate && <span className="block text-sm text-warning">{step.gate}</span>}
          {step.cloth && <span className="block text-sm text-warning">{step.cloth}</span>}
        </span>
      </label>
    </li>
  )
}

type PuttingProps = { guide: Guide; begun: boolean; left: number; snaps: number; onSnapped: () => void }

/** What is put on, why the old one went, and from where the new one comes. A string that snaps is followed by another. */
function Putting({ guide: g, begun, left, snaps, onSnapped }: PuttingProps) {
  const notice = useNotice()
  const navigate = useNavigate()
  const [cause, setCause] = useState('')
  const [product, setProduct] = useState(g.now.product)
  const [tension, setTension] = useState(g.now.tension)
  const [end, setEnd] = useState(g.now.end_kind)
  const [from, setFrom] = useState<string>(g.stock.find((s) => s.there > 0)?.take ?? '')
  const [snapped, setSnapped] = useState(false)
  const isString = g.tensions.length > 0
  const renew = useWrite({
    send: (why: string) =>
      take(
        api.POST('/api/v1/instruments/{id}/renewal', {
          params: { path: { id: g.instrument_id } },
          body: {
            part: g.now.part,
            product,
            tension,
            end_kind: end as '' | 'ball' | 'loop',
            take: from as '' | 'single' | 'set',
            ...(why ? { cause: why } : {}),
          },
        }),
      ),
  })
  const wrong = renew.error instanceof Problem ? (Object.values(renew.error.fields)[0] ?? renew.error.message) : ''
  const done = () =>
    renew.mutate(snaps > 0 ? 'snapped-tuning' : cause, {
      onSuccess: async (result) => {
        const short = result.short ? ` By the books there was no ${result.short} in stock.` : ''
        notice.show(`${g.tag}: ${g.now.name} is on and settles until ${longDay(g.settled_on)}.${short}`, result.events)
        await refresh()
        const next = g.others.find((o) => !g.one_a_day && (o.state === 'due' || o.state === 'late'))
        void navigate(next ? `/instruments/${g.instrument_id}/renewal/${next.part}` : '/strings-reeds/strings')
      },
    })
  // The one that snapped was on: it has a life of its own, a short one, and the next begins.
  const brokeOnTheWay = () =>
    renew.mutate(snaps > 0 ? 'snapped-tuning' : cause, {
      onSuccess: async () => {
        setSnapped(true)
        onSnapped()
        await refresh()
      },
    })
  const single = g.stock.find((s) => s.take === 'single')
  return (
    <aside aria-label="What is put on" className="h-fit lg:sticky lg:top-4">
      <h2>The old one</h2>
      {snaps > 0 ? (
        <p>snapped while tuning</p>
      ) : (
        <select
          className="select select-sm w-full"
          aria-label="Why it had come to its end"
          value={cause}
          onChange={(e) => setCause(e.currentTarget.value)}
        >
          <option value="">why? (not said)</option>
          {g.endings.map((e) => (
            <option key={e.key} value={e.key}>
              {e.name}
            </option>
          ))}
        </select>
      )}
      <h2 className="mt-4">The new one</h2>
      <div className="mt-1 grid gap-2">
        <input
          className="input input-sm w-full"
          aria-label="Product"
          placeholder="what it is called"
          list="products"
          maxLength={80}
          value={product}
          onChange={(e) => setProduct(e.currentTarget.value)}
        />
        <datalist id="products">
          {g.products.map((p) => (
            <option key={p} value={p} />
          ))}
        </datalist>
        {isString && (
          <>
            <select
              className="select select-sm w-full"
              aria-label="Tension"
              value={tension}
              onChange={(e) => setTension(e.currentTarget.value)}
            >
              <option value="">tension not said</option>
              {g.tensions.map((t) => (
                <option key={t.key} value={t.key}>
                  {t.name}
                </option>
              ))}
            </select>
            {tension && <p className="quiet text-sm">{g.tensions.find((t) => t.key === tension)?.says}</p>}
            <select
              className="select select-sm w-full"
              aria-label="End"
              value={end}
              onChange={(e) => setEnd(e.currentTarget.value as typeof end)}
            >
              <option value="">end not said</option>
              <option value="ball">ball end, for a fine tuner</option>
              <option value="loop">loop end</option>
            </select>
          </>
        )}
        {g.stock.length > 0 && (
          <select
            className="select select-sm w-full"
            aria-label="Taken from"
            value={from}
            onChange={(e) => setFrom(e.currentTarget.value)}
          >
            <option value="">from elsewhere</option>
            {g.stock.map((s) => (
              <option key={s.take} value={s.take}>
                {s.take === 'single' ? 'a single' : 'out of a set'}: {Math.floor(s.there * 100) / 100} {s.unit} there
              </option>
            ))}
          </select>
        )}
      </div>
      {snapped && (
        <p role="status" className="mt-3 border-l-4 border-warning pl-2 text-sm">
          {count(snaps, 'string')} snapped on the way and is written down. Look at the groove in nut and bridge, put
          graphite in, and take {single && single.there > 0 ? 'the single in stock' : 'another one'}.
        </p>
      )}
      <div className="mt-4 grid gap-2">
        <button className="btn btn-primary" disabled={!begun || left > 0 || renew.isPending} onClick={done}>
          {left > 0 ? `${count(left, 'step')} to tick` : 'It is on'}
        </button>
        {isString && (
          <button className="btn" disabled={!begun || renew.isPending} onClick={brokeOnTheWay}>
            It snapped
          </button>
        )}
      </div>
      {wrong && (
        <p role="alert" className="mt-2 text-error">
          {wrong}
        </p>
      )}
      {g.for_concert && (
        <p className={`mt-3 text-sm ${g.for_concert.too_late ? 'text-error' : ''}`}>
          For the concert on {longDay(g.for_concert.on)} {count(g.for_concert.strings, 'string')} of {g.tag}{' '}
          {g.for_concert.strings === 1 ? 'runs' : 'run'} out:{' '}
          {g.for_concert.latest_start
            ? `begin by ${longDay(g.for_concert.latest_start)}`
            : 'too late for all; the worst one now, the others after it'}
          .
        </p>
      )}
      {g.settle_days > 0 && (
        <p className="quiet mt-3 text-sm">
          It sags for about {count(g.settle_days, 'day')}: put on today it has settled by {longDay(g.settled_on)}.
        </p>
      )}
    </aside>
  )
}
