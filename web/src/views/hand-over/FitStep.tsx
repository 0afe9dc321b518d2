import type { Schemas } from '../../api/client'
import { Caution } from '../../shell/Caution'

type Checks = Schemas['Checks']

const questions: { key: keyof Checks; ask: string; answers: [string, string][] }[] = [
  {
    key: 'scroll',
    ask: 'Arm out, the hand closes on the scroll',
    answers: [
      ['short', 'fingertips only'],
      ['ok', 'comfortably'],
      ['past', 'well beyond it'],
    ],
  },
  {
    key: 'elbow',
    ask: 'The elbow in playing position',
    answers: [
      ['tight', 'too tight'],
      ['ok', 'about a right angle'],
      ['wide', 'too wide'],
    ],
  },
  {
    key: 'fourth_finger',
    ask: 'The fourth finger on its note',
    answers: [
      ['relaxed', 'relaxed and round'],
      ['stretched', 'stretched'],
    ],
  },
]

type Props = {
  sheet: Schemas['HandOverSheet']
  fit: Schemas['FitSheet']
  checks: Checks
  onChange: (checks: Checks) => void
}

/** The three checks with the instrument in hand. They stand above the chart. */
export function FitStep({ sheet, fit, checks, onChange }: Props) {
  const { size, kind_name } = sheet.instrument
  return (
    <>
      {fit.cautions.map((c) => (
        <Caution key={c}>{c}</Caution>
      ))}
      {questions.map(({ key, ask, answers }) => (
        <fieldset key={key} className="line py-2">
          <legend className="float-left mr-3 w-full py-1 sm:w-72">{ask}</legend>
          <span className="join">
            {answers.map(([value, words]) => (
              <button
                key={value}
                type="button"
                aria-pressed={checks[key] === value}
                className={`btn join-item btn-sm ${checks[key] === value ? (value === 'ok' || value === 'relaxed' ? 'btn-primary' : 'btn-neutral') : ''}`}
                onClick={() => onChange({ ...checks, [key]: value })}
              >
                {words}
              </button>
            ))}
          </span>
        </fieldset>
      ))}
      <p className="mt-3" role="status">
        {fit.fits === '' && 'Nobody has measured this player yet; the checks say whether it fits.'}
        {fit.fits !== '' && fit.apart === 0 && (
          <b>
            {kind_name} {size} fits.
          </b>
        )}
        {fit.fits !== '' && fit.apart !== 0 && (
          <b className="text-warning">
            {fit.fits} fits; {size} is too {fit.apart > 0 ? 'large' : 'small'}. Take another if there is one.
          </b>
        )}{' '}
        {fit.chart && (
          <span className="quiet text-sm">
            By the chart {fit.chart}, from memory: {fit.measure}.
          </span>
        )}
      </p>
    </>
  )
}
