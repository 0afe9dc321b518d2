import { useState } from 'react'
import { api, take, type Schemas } from '../../api/client'
import { refresh, useMay, useWholeSeason } from '../../api/queries'
import { useAsSeen } from '../../api/seen'
import { useWrite } from '../../api/write'
import { useEntry } from '../../shell/entry'
import { Field } from '../../shell/Field'
import { useNotice } from '../../shell/notice'
import { centsOf, money, nearDay, readable, typedCents } from '../../words'
import { units, type Score } from './notes'

type Settings = Schemas['SeasonSettings']
type Form = Record<
  | 'term_minutes'
  | 'break_minutes'
  | 'van_every'
  | 'van_places'
  | 'van_cents'
  | 'budget'
  | 'trip'
  | 'loaner'
  | 'loaners',
  string
>

/** What is tried: other weeks, and what is tried once without being kept. */
type Tried = Required<Pick<Schemas['Planning'], 'settings' | 'loaners' | 'trips'>>

type Props = { score: Score; pins: Schemas['Pin'][]; onTake: (settings: Settings) => void }

/** Another trip, thirty more minutes, a loaner more: what it changes, before anybody pays. */
export function WhatIf({ score, pins, onTake }: Props) {
  const may = useMay('change settings')
  const notice = useNotice()
  const s = score.settings
  const { register, submit, formState, reset, getValues } = useEntry<Form>({
    defaultValues: {
      term_minutes: String(s.term_minutes),
      break_minutes: String(s.break_minutes),
      van_every: String(s.van_every),
      van_places: String(s.van_places),
      van_cents: typedCents(s.van_cents),
      budget: typedCents(s.budget_cents),
      trip: '',
      loaner: '',
      loaners: '1',
    },
  })
  const seen = useAsSeen(score.settings_version, formState.isDirty)
  const [tried, setTried] = useState<Tried>()
  const other = useWholeSeason({ pins, anew: true, ...(tried ?? { settings: s }) })
  const now = useWholeSeason({ pins, anew: true, settings: s })
  const save = useWrite({
    send: (settings: Settings) =>
      take(api.PUT('/api/v1/season/settings', { params: { query: { version: seen } }, body: settings })),
    onSuccess: async () => {
      reset(getValues())
      notice.show('Saved. The season is planned with it.')
      await refresh()
    },
    onError: (problem) => notice.show(problem.message),
  })
  const read = (f: Form): Tried => {
    const budget = centsOf(f.budget)
    return {
      settings: {
        term_minutes: Number(f.term_minutes),
        break_minutes: Number(f.break_minutes),
        van_every: Number(f.van_every),
        van_places: Number(f.van_places),
        van_cents: centsOf(f.van_cents) ?? 0,
        ...(budget === null ? {} : { budget_cents: budget }),
      },
      loaners: f.loaner ? [{ of: f.loaner, count: Number(f.loaners) }] : [],
      trips: f.trip ? [f.trip] : [],
    }
  }
  const fields = [
    ['term_minutes', 'Bench minutes in a school week'],
    ['break_minutes', 'Bench minutes in a week of a break'],
    ['van_every', 'Weeks between two trips, 0 for none'],
    ['van_places', 'Places in the van'],
  ] as const
  return (
    <div className="mt-3 grid gap-x-10 gap-y-5 lg:grid-cols-[380px_1fr]">
      <form aria-label="What if" className="grid content-start gap-3" onSubmit={submit((f) => setTried(read(f)))}>
        <div className="grid items-end gap-3 sm:grid-cols-2">
          {fields.map(([key, label]) => (
            <Field key={key} label={label}>
              <input className="input input-sm w-full" type="number" min={0} required {...register(key)} />
            </Field>
          ))}
        </div>
        <Field label="A trip costs" error={formState.errors.van_cents?.message}>
          <input
            className="input input-sm w-full text-right"
            inputMode="decimal"
            {...register('van_cents', { validate: readable })}
          />
        </Field>
        <Field label="For all repairs of the season, empty for no limit" error={formState.errors.budget?.message}>
          <input
            className="input input-sm w-full text-right"
            inputMode="decimal"
            {...register('budget', { validate: readable })}
          />
        </Field>
        <Field label="Another trip in the week of">
          <select className="select select-sm w-full" {...register('trip')}>
            <option value="">none</option>
            {score.weeks
              .filter((w) => !w.trip)
              .map((w) => (
                <option key={w.monday} value={w.monday}>
                  {nearDay(w.monday)}
                </option>
              ))}
          </select>
        </Field>
        <div className="grid grid-cols-[1fr_80px] gap-2">
          <Field label="More to lend of">
            <select className="select select-sm w-full" {...register('loaner')}>
              <option value="">nothing</option>
              {score.lendable.map((l) => (
                <option key={l.of} value={l.of}>
                  {l.name}, {l.free} free now
                </option>
              ))}
            </select>
          </Field>
          <Field label="How many">
            <input className="input input-sm w-full" type="number" min={0} {...register('loaners')} />
          </Field>
        </div>
        <p className="flex gap-2">
          <button className="btn btn-primary btn-sm">Try it</button>
          {may && tried && (
            <button
              type="button"
              className="btn btn-sm"
              disabled={save.isPending}
              onClick={() => {
                onTake(tried.settings)
                save.mutate(tried.settings)
              }}
            >
              Keep it so
            </button>
          )}
        </p>
        <p className="quiet text-sm">
          What is kept are the weeks and the money; the trip and what is lent are tried once. Plan the trip under Shop.
        </p>
        {!score.own_settings && <p className="quiet text-sm">These are usual figures; your school has set none yet.</p>}
      </form>
      <section aria-label="Side by side">
        <h2>Side by side</h2>
        {other.error && (
          <p role="alert" className="text-error">
            {other.error.message}
          </p>
        )}
        {!now.data && !now.error && <p className="quiet">Planning…</p>}
        {now.data && (
          <Compare now={now.data} other={tried ? other.data : undefined} busy={other.isFetching || now.isFetching} />
        )}
        <p className="quiet mt-3 text-sm">
          Both are planned anew, without what was accepted. A week late weighs as one unit of money times what happens
          if the work is left undone, by your weights under Settings; a week without an instrument as four.
        </p>
      </section>
    </div>
  )
}

function Compare({ now, other, busy }: { now: Score; other: Score | undefined; busy: boolean }) {
  const waits = (s: Score) => s.pieces.filter((p) => p.week === null).length
  const late = (s: Score) => s.pieces.filter((p) => p.week !== null && p.week > Math.max(0, p.due)).length
  const rows: [string, (s: Score) => number, (n: number) => string][] = [
    ['costs', (s) => s.costs.total_cents, money],
    ['of that the van', (s) => s.costs.van_cents, money],
    ['weeks of lateness by weight', (s) => s.lateness.weeks, String],
    ['weeks of playing lost', (s) => s.lateness.absent_weeks, String],
    ['what the plan makes small', (s) => s.total_cents, units],
    ['pieces late', late, String],
    ['pieces without a week', waits, String],
  ]
  return (
    <table className="mt-1 w-full max-w-xl" aria-busy={busy}>
      <thead>
        <tr className="quiet text-right text-sm">
          <th />
          <th className="font-normal">as it is</th>
          <th className="font-normal">tried</th>
          <th className="font-normal">change</th>
        </tr>
      </thead>
      <tbody>
        {rows.map(([name, of, say]) => {
          const change = other ? of(other) - of(now) : 0
          return (
            <tr key={name} className="line text-right">
              <th className="py-1 text-left font-normal">{name}</th>
              <td>{say(of(now))}</td>
              <td>{other ? say(of(other)) : ''}</td>
              <td className={change < 0 ? 'text-success' : change > 0 ? 'text-error' : ''}>
                {other && change !== 0 && `${change > 0 ? '+' : '−'}${say(Math.abs(change))}`}
              </td>
            </tr>
          )
        })}
      </tbody>
    </table>
  )
}
