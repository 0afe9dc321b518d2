import type { Schemas } from '../../api/client'
import { Caution } from '../../shell/Caution'

type Checks = Schemas['Checks']

type Props = {
  sheet: Schemas['HandOverSheet']
  fit: Schemas['FitSheet']
  checks: Checks
  onChange: (checks: Checks) => void
}

/** The checks with the instrument in hand. They stand above the chart. */
export function FitStep({ sheet, fit, checks, onChange }: Props) {
  const { size, kind_name } = sheet.instrument
  return (
    <>
      {fit.cautions.map((c) => (
        <Caution key={c}>{c}</Caution>
      ))}
      {fit.signs.map(({ key, ask, answers }) => (
        <fieldset key={key} className="line py-2">
          <legend className="float-left mr-3 w-full py-1 sm:w-72">{ask}</legend>
          <span className="join">
            {answers.map((answer) => {
              const given = checks[key] === answer.key
              return (
                <button
                  key={answer.key}
                  type="button"
                  aria-pressed={given}
                  className={`btn join-item btn-sm ${given ? (answer.says === 'fits' ? 'btn-primary' : 'btn-neutral') : ''}`}
                  onClick={() => onChange({ ...checks, [key]: answer.key })}
                >
                  {answer.words}
                </button>
              )
            })}
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
