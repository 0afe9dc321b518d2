import { TriangleAlert } from 'lucide-react'
import { api, take, type Schemas } from '../../api/client'
import { refresh, useMay } from '../../api/queries'
import { useWrite } from '../../api/write'
import { Caution } from '../../shell/Caution'
import { useNotice } from '../../shell/notice'
import { Otherwise } from '../../shell/Otherwise'
import { count } from '../../words'

/** How this instrument is cared for, as its school of practice and its materials have it. Cautions stand before the steps. */
export function Routines({ file, open }: { file: Schemas['File']; open: string | null }) {
  return (
    <section aria-label="Routines">
      {file.routines.map((r) => (
        <details key={r.key} className="line py-2" open={r.key === open}>
          <summary className="cursor-pointer">
            <b>{r.title}</b>{' '}
            <span className="quiet text-sm">
              {r.rhythm}, {r.who}, {count(r.minutes, 'minute')}
            </span>
          </summary>
          <div className="mt-2 pl-4">
            {r.cautions?.map((c) => (
              <Caution key={c}>{c}</Caution>
            ))}
            {r.tools.length > 0 && <p className="quiet text-sm">You need: {r.tools.join(', ')}.</p>}
            <ol className="mt-1 list-decimal space-y-1 pl-5">
              {r.steps.map((s) => (
                <li key={s.do}>
                  {s.gate && (
                    <span className="block text-sm text-error">
                      <TriangleAlert size={14} className="mr-1 inline" aria-label="Caution" />
                      {s.gate}
                    </span>
                  )}
                  {s.do} {s.reason && <span className="quiet text-sm">{s.reason}</span>}
                  {s.cloth && <b className="block text-sm">{s.cloth}</b>}
                  {s.basis && s.basis !== r.basis && <span className="quiet text-sm"> (Footing: {s.basis}.)</span>}
                </li>
              ))}
            </ol>
            {r.choices.map((c) => (
              <div key={c.practice} className="mt-2">
                <p className="text-sm">
                  <b>{c.title}:</b> {c.option.name.toLowerCase()}.{' '}
                  {c.because && (
                    <span className="quiet">
                      {c.because} {c.basis && `(${c.basis})`}
                    </span>
                  )}
                </p>
                <Otherwise held={c.others} />
              </div>
            ))}
            <p className="quiet mt-2 text-sm">
              Footing: {r.basis}
              {r.basis !== 'standard' && ', no published source'}. Local rules and a trained technician decide over this
              page.
            </p>
          </div>
        </details>
      ))}
      <OwnPractices file={file} />
    </section>
  )
}

/** Where this one instrument follows another side than the school. */
function OwnPractices({ file }: { file: Schemas['File'] }) {
  const may = useMay('change instruments')
  const notice = useNotice()
  const choose = useWrite({
    send: ({ practice: p, option }: { practice: Schemas['FilePractice']; option: string }) =>
      take(
        api.PUT('/api/v1/instruments/{id}/practice', {
          params: { path: { id: file.instrument.id }, query: { version: p.version } },
          body: { practice: p.practice, option },
        }),
      ),
    onSuccess: async () => {
      notice.show('Its routines and clocks follow.')
      await refresh()
    },
    onError: (problem) => notice.show(problem.message),
  })
  return (
    <section aria-labelledby="own-practices" className="no-print mt-5">
      <h2 id="own-practices">Where practitioners disagree</h2>
      <p className="quiet text-sm">
        This instrument follows the school unless you choose otherwise here. What a material forbids wins over any
        choice.
      </p>
      <ul className="mt-1 grid gap-x-6 sm:grid-cols-2">
        {file.practices.map((p) => (
          <li key={p.practice} className="line flex items-center gap-2 py-1">
            <label className="min-w-0 flex-1 text-sm" htmlFor={`practice-${p.practice}`}>
              {p.title}
            </label>
            <select
              id={`practice-${p.practice}`}
              className={`select select-sm w-44 ${p.own ? 'font-bold' : ''}`}
              disabled={!may || choose.isPending}
              value={p.own ? p.option.key : ''}
              onChange={(e) => choose.mutate({ practice: p, option: e.currentTarget.value })}
            >
              <option value="">As the school: {p.options.find((o) => o.key === p.school)?.name}</option>
              {p.options.map((o) => (
                <option key={o.key} value={o.key}>
                  {o.name}
                </option>
              ))}
            </select>
          </li>
        ))}
      </ul>
    </section>
  )
}
