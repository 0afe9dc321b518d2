import { api, take, type Schemas } from '../../api/client'
import { refresh, useMay, usePractices } from '../../api/queries'
import { useWrite } from '../../api/write'
import { useNotice } from '../../shell/notice'

/** Where practitioners disagree: what each side says, and what this school holds. */
export function PracticeSettings() {
  const { data: practices, error } = usePractices()
  const may = useMay('change settings')
  const notice = useNotice()
  const choose = useWrite({
    send: (choices: Record<string, string>) => take(api.PUT('/api/v1/practices', { body: { choices } })),
    onSuccess: async () => {
      notice.show('Routines and clocks follow.')
      await refresh()
    },
    onError: (problem) => notice.show(problem.message),
  })
  if (error && !practices) return <p role="alert">{error.message}</p>
  if (!practices) return null
  const headings = [...new Set(practices.map((p) => p.about))]
  return (
    <>
      <p className="quiet max-w-3xl">
        Each choice takes hold of all routines and clocks at once; a single instrument may follow another side in its
        own file. What a material forbids wins over any choice here.
      </p>
      {headings.map((about) => (
        <section key={about} className="mt-5" aria-label={about}>
          <h2 className="border-b-2 border-base-content pb-1">{about}</h2>
          <div className="grid gap-x-8 md:grid-cols-2">
            {practices
              .filter((p) => p.about === about)
              .map((p) => (
                <Practice
                  key={p.key}
                  practice={p}
                  disabled={!may || choose.isPending}
                  onChoose={(option) => choose.mutate({ [p.key]: option })}
                />
              ))}
          </div>
        </section>
      ))}
    </>
  )
}

type Props = { practice: Schemas['SchoolPractice']; disabled: boolean; onChoose: (option: string) => void }

function Practice({ practice: p, disabled, onChoose }: Props) {
  return (
    <fieldset disabled={disabled} className="line py-3">
      <legend className="float-left font-bold">{p.title}</legend>
      <div className="clear-both">
        {p.options.map((o, n) => (
          <label key={o.key} className="flex cursor-pointer items-start gap-2.5 py-0.5">
            <input
              type="radio"
              className="radio radio-sm mt-0.5"
              name={p.key}
              aria-label={`${p.title}: ${o.name}`}
              checked={p.chosen === o.key}
              onChange={() => onChoose(o.key)}
            />
            <span>
              <b className={p.chosen === o.key ? '' : 'font-normal'}>{o.name}.</b>{' '}
              <span className="quiet text-sm">
                {o.says}
                {n === 0 &&
                  ` Default: ${p.because.charAt(0).toLowerCase()}${p.because.slice(1)}${p.basis ? ` (${p.basis})` : ''}`}
              </span>
            </span>
          </label>
        ))}
      </div>
    </fieldset>
  )
}
