import type { Schemas } from '../../api/client'
import { Caution } from '../../shell/Caution'
import { SafetySheet } from './SafetySheet'

type Props = { of: Pick<Schemas['BenchRun'], 'cautions' | 'handling'> }

/** What is read before anything is begun: of the work, and on the labels of what is used. */
export function Cautions({ of }: Props) {
  return (
    <>
      {of.cautions.map((c) => (
        <Caution key={c}>{c}</Caution>
      ))}
      {of.handling.map((h) => (
        <Caution key={h.product_id}>
          {h.product}: {h.hazards && `${h.hazards}. `}
          <SafetySheet of={h} />
        </Caution>
      ))}
    </>
  )
}
