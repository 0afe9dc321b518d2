import { Link, useParams } from 'react-router'
import type { Schemas } from '../../api/client'
import { useMay, useShop, useShopJob } from '../../api/queries'
import { Mark } from '../../marks/Mark'
import { count, fullDay, money } from '../../words'
import { Asked } from './Asked'
import { CheckIn } from './CheckIn'
import { Next } from './Next'
import { Quotes } from './Quotes'
import { Weigh } from './Weigh'

/** One job: what is asked, what it costs, what is next. */
export default function Job() {
  const { id = '' } = useParams()
  const { data: sheet, error } = useShopJob(id)
  const may = useMay('change instruments')
  if (error && !sheet) return <p role="alert">{error.message}</p>
  if (!sheet) return <p className="quiet">Looking through the slips…</p>
  const { job, row, instrument } = sheet
  return (
    <section>
      <p className="no-print text-sm">
        <Link to="/shop" className="link">
          Shop
        </Link>
      </p>
      <div className="flex flex-wrap items-center gap-x-3">
        <Mark name={instrument.mark} />
        <h1>
          <Link to={`/instruments/${instrument.id}`}>{instrument.tag}</Link>
        </h1>
        <span className="quiet">
          {instrument.kind_name} {instrument.size}
          {row.holder && `, ${row.holder}`}
        </span>
        <a
          className="btn btn-sm no-print ml-auto"
          href={`/api/v1/shop/jobs/${job.id}/sheet.pdf`}
          target="_blank"
          rel="noreferrer"
        >
          Print the job sheet
        </a>
      </div>
      <Way state={job.state} />
      {row.says && <p className={`first-letter:uppercase ${row.alert ? 'text-error' : 'quiet'}`}>{row.says}.</p>}
      <div className="mt-3 grid gap-x-10 gap-y-6 lg:grid-cols-[1fr_380px]">
        <div className="grid content-start gap-6">
          <Asked key={job.version} sheet={sheet} may={may} />
          <Findings sheet={sheet} />
        </div>
        <div className="order-first grid content-start gap-6 lg:order-none">
          {may && job.state === 'back' && <CheckIn key={job.version} sheet={sheet} />}
          {may && sheet.steps.length > 0 && job.state !== 'back' && <Next key={job.version} sheet={sheet} />}
          {job.state === 'closed' && <Outcome sheet={sheet} />}
          {(sheet.quotes.length > 0 || (may && sheet.steps.includes('quote'))) && <Quotes sheet={sheet} may={may} />}
          {['wanted', 'asked', 'quoted', 'agreed'].includes(job.state) && <Weigh key={row.cents} sheet={sheet} />}
        </div>
      </div>
    </section>
  )
}

const path = ['wanted', 'asked', 'quoted', 'agreed', 'booked', 'away', 'back', 'closed'] as const

/** The way of a job, like bars of a piece: where it stands is filled. */
function Way({ state }: { state: Schemas['Job']['state'] }) {
  const { data } = useShop()
  if (state === 'called-off') return <p className="my-2 font-bold">Called off</p>
  const at = path.indexOf(state)
  const words = (key: string) => data?.states.find((s) => s.state === key)?.words ?? key
  return (
    <ol className="no-print my-3 flex max-w-3xl flex-wrap gap-y-1 text-sm" aria-label="The way of the job">
      {path.map((key, n) => (
        <li
          key={key}
          aria-current={n === at ? 'step' : undefined}
          className={`border-t-2 py-1 pr-4 ${n <= at ? 'border-primary' : 'border-base-300'} ${n === at ? 'font-bold' : 'quiet'}`}
        >
          {words(key)}
        </li>
      ))}
    </ol>
  )
}

/** What was found on it, so that nobody sends it away without what matters. */
function Findings({ sheet }: { sheet: Schemas['JobView'] }) {
  const others = sheet.findings.filter((f) => !sheet.job.lines.some((l) => l.finding_id === f.id))
  if (others.length === 0) return null
  return (
    <section aria-label="Also open">
      <h2>Also open on it</h2>
      <ul className="text-sm">
        {others.map((f) => (
          <li key={f.id} className="line py-1">
            {f.name}
            {f.note && <span className="quiet">, {f.note}</span>}
          </li>
        ))}
      </ul>
    </section>
  )
}

function Outcome({ sheet }: { sheet: Schemas['JobView'] }) {
  const { job } = sheet
  const left = job.lines.filter((l) => l.outcome === 'not mended')
  return (
    <section aria-label="What came of it">
      <h2>What came of it</h2>
      <p>
        {job.real_cents !== undefined && <b>{money(job.real_cents)}</b>}
        {job.agreed_cents !== undefined && <span className="quiet">, agreed {money(job.agreed_cents)}</span>}
        {job.closed_on && <span className="quiet">, checked in {fullDay(job.closed_on)}</span>}
      </p>
      {left.length > 0 && <p>{count(left.length, 'line')} not mended; what they were to end stays open.</p>}
      {job.ended_how && <p className="italic">{job.ended_how}</p>}
      <p className="quiet text-sm">{money(sheet.spent_cents)} spent on its repairs so far.</p>
    </section>
  )
}
