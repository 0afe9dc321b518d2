import { useState } from 'react'
import { api, take, type Schemas } from '../../api/client'
import { refresh, useMay, useReeds } from '../../api/queries'
import { useAsSeen } from '../../api/seen'
import { useWrite } from '../../api/write'
import { useEntry } from '../../shell/entry'
import { useNotice } from '../../shell/notice'
import { inText } from '../../words'
import { Chairs } from './Chairs'

/** Every player's box of reeds, section by section; how reeds are broken in here. */
export function Reeds() {
  const { data, error } = useReeds()
  const [names, setNames] = useState(false)
  const [kind, setKind] = useState<string>()
  if (error && !data) return <p role="alert">{error.message}</p>
  if (!data) return <p className="quiet">Opening the boxes…</p>
  if (data.sections.length === 0)
    return <p>Nobody holds an instrument with a reed yet. Hand one out, and its player’s box stands here.</p>
  const section =
    data.sections.find((s) => s.kind === kind) ??
    [...data.sections].sort((a, b) => b.chairs.length - a.chairs.length)[0]
  if (!section) return null
  return (
    <div className="grid gap-x-10 gap-y-6 lg:grid-cols-[1fr_320px]">
      <section aria-label={section.kind_name}>
        <div className="no-print mb-2 flex flex-wrap gap-1.5" role="group" aria-label="Section">
          {data.sections.map((s) => (
            <button
              key={s.kind}
              className={`btn btn-sm ${s.kind === section.kind ? 'btn-primary' : ''}`}
              aria-pressed={s.kind === section.kind}
              onClick={() => setKind(s.kind)}
            >
              {s.kind_name}
            </button>
          ))}
          <label className="ml-auto flex items-center gap-1.5 text-sm">
            <input
              type="checkbox"
              className="checkbox checkbox-sm"
              checked={names}
              onChange={(e) => setNames(e.currentTarget.checked)}
            />
            with names
          </label>
        </div>
        <Chairs chairs={section.chairs} strengths={section.strengths} endings={data.endings} names={names} wide />
      </section>
      <aside className="text-sm">
        <h2>How they are read</h2>
        <p className="mt-1">
          A reed fills from the butt while it is broken in and is black when it is ready; the one with a dot is today’s.
          A struck one is tired. Tap one to note what became of it.
        </p>
        <p className="quiet mt-2">
          One to play and two to spare. The one that has rested longest is played; minutes are counted as if every turn
          had been kept. Own reeds only.
        </p>
        <h2 className="mt-5">Breaking in</h2>
        {data.programs
          .filter((p) => p.supply === section.chairs[0]?.supply)
          .map((p) => (
            <Program key={p.supply + p.minutes.join()} program={p} />
          ))}
        <p className="quiet mt-1">Minutes on the first playing days; weekends and breaks are left out.</p>
      </aside>
    </div>
  )
}

/** The minutes of a new reed's first days; the school may have its own. */
function Program({ program: p }: { program: Schemas['BreakIn'] }) {
  const may = useMay('change settings')
  const notice = useNotice()
  const [editing, setEditing] = useState(false)
  const { register, submit } = useEntry({ defaultValues: { text: p.minutes.join(', ') } })
  const seen = useAsSeen(p.version, editing)
  const save = useWrite({
    send: (minutes: number[]) =>
      take(
        api.PUT('/api/v1/strings-reeds/break-in', {
          params: { query: { version: seen } },
          body: { supply: p.supply, minutes },
        }),
      ),
    onSuccess: async () => {
      setEditing(false)
      notice.show(`The ${inText(p.name)} has its break-in.`)
      await refresh()
    },
  })
  const wrong = save.wrong.minutes ?? save.error?.message
  return (
    <div className="line py-1.5">
      <p className="flex flex-wrap items-baseline gap-x-2">
        <b>{p.name}</b> {p.minutes.join(', ')} min <span className="quiet">{p.basis}</span>
        {may && (
          <button className="because" aria-label={`Change: ${p.name}`} onClick={() => setEditing(!editing)}>
            change
          </button>
        )}
      </p>
      {editing && (
        <form
          className="mt-1 flex flex-wrap items-center gap-2"
          onSubmit={submit(({ text }) =>
            save.mutate(
              text
                .split(/[\s,;]+/)
                .filter(Boolean)
                .map(Number),
            ),
          )}
        >
          <input
            className="input input-sm w-44"
            aria-label={`Minutes on the first days: ${p.name}`}
            {...register('text')}
          />
          <button className="btn btn-sm btn-primary" disabled={save.isPending}>
            Save
          </button>
          {p.own && (
            <button type="button" className="btn btn-sm" onClick={() => save.mutate([])}>
              The usual one
            </button>
          )}
          {wrong && (
            <span role="alert" className="w-full text-error">
              {wrong}
            </span>
          )}
        </form>
      )}
    </div>
  )
}
