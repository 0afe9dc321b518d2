import { Link } from 'react-router'
import type { Schemas } from '../../api/client'
import { Caution } from '../../shell/Caution'

type Props = { sheet: Schemas['HandOverSheet']; handOver: string; signed: boolean }

/** It is out: its label, its paper, and how it is put together before the first note. */
export function Done({ sheet, handOver, signed }: Props) {
  const { instrument, player, assembly } = sheet
  return (
    <section aria-label="Handed out" className="max-w-2xl">
      <h1>
        {instrument.tag} is {player}’s now
      </h1>
      <p className="mt-2 flex flex-wrap gap-x-5 gap-y-1">
        <a className="link" href={`/api/v1/labels.pdf?tags=${instrument.tag}`} target="_blank" rel="noreferrer">
          Label for the case
        </a>
        <a className="link" href={`/api/v1/hand-overs/${handOver}/agreement.pdf`} target="_blank" rel="noreferrer">
          {signed ? 'The signed agreement' : 'The agreement, to be signed'}
        </a>
        <Link className="link" to={`/instruments/${instrument.id}`}>
          Its file
        </Link>
      </p>
      {assembly && (
        <div className="mt-5">
          <h2>Before the first note: {assembly.title.toLowerCase()}</h2>
          <p className="quiet mb-2 text-sm">Show it once, then let {player} do it twice.</p>
          {assembly.cautions?.map((c) => (
            <Caution key={c}>{c}</Caution>
          ))}
          <ol className="list-decimal space-y-1 pl-5">
            {assembly.steps.map((s) => (
              <li key={s.do}>
                {s.do} {s.reason && <span className="quiet text-sm">{s.reason}</span>}
              </li>
            ))}
          </ol>
        </div>
      )}
      <p className="mt-5">
        <Link className="btn btn-primary" to="/hand-out">
          Next player
        </Link>
      </p>
    </section>
  )
}
