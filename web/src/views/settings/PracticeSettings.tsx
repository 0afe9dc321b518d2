import { api, take, type Schemas } from '../../api/client'
import { refresh, useMay, usePractices } from '../../api/queries'
import { useWrite } from '../../api/write'
import { useNotice } from '../../shell/notice'
import { ProfileYears } from './ProfileYears'

/** Where practitioners disagree: what each side says, and what this school holds. */
export function PracticeSettings() {
  const { data: practices, error } = usePractices()
  const may = useMay('change settings')
  const notice = useNotice()
  const choose = useWrite({
    send: ({ practice: p, option }: { practice: Schemas['SchoolPractice']; option: string }) =>
      take(
        api.PUT('/api/v1/practices', {
          params: { query: { version: p.version } },
          body: { choices: { [p.key]: option } },
        }),
      ),
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
              .map((p) =>
                p.key === 'profile' ? (
                  <div key={p.key} className="md:col-span-2">
                    <Practice
                      practice={p}
                      disabled={!may || choose.isPending}
                      onChoose={(option) => choose.mutate({ practice: p, option })}
                    />
                    {may && <ProfileYears />}
                  </div>
                ) : (
                  <Practice
                    key={p.key}
                    practice={p}
                    disabled={!may || choose.isPending}
                    onChoose={(option) => choose.mutate({ practice: p, option })}
                  />
                ),
              )}
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
        {p.asked && <Asked practice={p} onChoose={onChoose} />}
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

/** A default has changed since the school began: it keeps what it had, and is asked once. */
function Asked({ practice: p, onChoose }: Omit<Props, 'disabled'>) {
  const kept = p.options.find((o) => o.key === p.chosen)
  const usual = p.options[0]
  if (!kept || !usual) return null
  return (
    <div className="my-1.5 border-l-3 border-warning pl-3">
      <p className="text-sm">
        New schools begin with <b>{usual.name}</b> now. This school keeps <b>{kept.name}</b>, as before. Is that meant?
      </p>
      <div className="mt-1 flex flex-wrap gap-2">
        <button className="btn btn-sm" onClick={() => onChoose(kept.key)}>
          Keep {kept.name}
        </button>
        {usual.key !== kept.key && (
          <button className="btn btn-sm" onClick={() => onChoose(usual.key)}>
            Take {usual.name}
          </button>
        )}
      </div>
    </div>
  )
}
