import { useMemo, useState } from 'react'
import { api, take, type Schemas } from '../../api/client'
import { refresh, useMay, useSeason } from '../../api/queries'
import { useWrite } from '../../api/write'
import { useNotice } from '../../shell/notice'
import { count, money, number } from '../../words'
import { TabPanel, Tabs } from '../../shell/Tabs'
import { Card } from './Card'
import { notesOf, units, type Score } from './notes'
import { ScoreSheet } from './ScoreSheet'
import { usePins } from './usePins'
import { WeekList } from './WeekList'
import { WhatIf } from './WhatIf'

type Settings = Schemas['SeasonSettings']

/** The plan of the season: moved by hand where one knows better, then accepted. */
export function Plan() {
  const may = useMay('change instruments')
  const notice = useNotice()
  const [anew, setAnew] = useState(false)
  const [settings, setSettings] = useState<Settings>()
  const [key, setKey] = useState<string>()
  const [page, setPage] = useState<'score' | 'list' | 'if'>('score')
  const ask = (chosenWeeks: Record<string, number>) => ({
    pins: Object.entries(chosenWeeks).map(([id, week]) => ({ id, week })),
    anew,
    ...(settings ? { settings } : {}),
  })
  const { pins, trying, refused, move, free, clear } = usePins(ask)
  const asked = ask(pins)
  const { data: score, error, isFetching, isPlaceholderData } = useSeason(asked)
  const notes = useMemo(() => notesOf(score), [score])
  const accept = useWrite({
    send: ({ pieces, version }: { pieces: Schemas['SeasonPiece'][]; version: string }) =>
      take(api.PUT('/api/v1/season', { params: { query: { version } }, body: { pieces } })),
    onSuccess: async (_, { pieces }) => {
      notice.show(pieces.length === 0 ? 'The plan is dropped.' : 'Accepted. Its work stands on Today in its week.')
      clear()
      setAnew(false)
      await refresh()
    },
    onError: (problem) => notice.show(problem.message),
  })
  if (!score) return error ? <p role="alert">{error.message}</p> : <p className="quiet">Ruling the staves…</p>
  if (score.pieces.length === 0)
    return <p>No work opens in the weeks ahead. With instruments and their clocks the year fills by itself.</p>

  const chosen = notes.find((n) => n.key === key)
  const changed = Object.keys(pins).length > 0 || anew || settings !== undefined
  return (
    <div aria-busy={score.improving || (isFetching && isPlaceholderData) || trying !== undefined}>
      <div className="flex flex-wrap items-start gap-x-5 gap-y-1 lg:flex-nowrap">
        <Costs score={score} />
        <Tabs
          id="season"
          label="What to show"
          className="ml-auto shrink-0"
          pages={[
            ['score', 'Score'],
            ['list', 'List'],
            ['if', 'What if'],
          ]}
          at={page}
          onChoose={setPage}
        />
      </div>
      {refused && (
        <p role="alert" className="my-1 text-error">
          {refused.replace(/\.$/, '')}. Nothing was moved.
        </p>
      )}
      {score.left_out > 0 && (
        <p className="my-1 text-warning">
          One plan holds {count(score.pieces.length, 'piece')}: {count(score.left_out, 'other')} that press less are
          left out until some of these are done.
        </p>
      )}
      {score.moved.length > 0 && !anew && (
        <p className="my-1 text-warning">
          {score.moved
            .slice(0, 3)
            .map((m) => m.says)
            .join('; ')}
          {score.moved.length > 3 && `; and ${String(score.moved.length - 3)} more`}. Everything else stays.
        </p>
      )}
      <TabPanel of="season" at={page}>
        {page === 'score' && (
          <>
            <ScoreSheet
              score={score}
              notes={notes}
              chosen={key}
              trying={trying}
              onChoose={setKey}
              onMove={may ? move : undefined}
            />
            {chosen && (
              <Card
                key={chosen.key}
                note={chosen}
                score={score}
                onMove={may ? move : undefined}
                onFree={may ? free : undefined}
                onClose={() => setKey(undefined)}
              />
            )}
          </>
        )}
        {page === 'list' && <WeekList score={score} notes={notes} onMove={may ? move : undefined} />}
        {page === 'if' && <WhatIf score={score} pins={asked.pins} onTake={setSettings} />}
      </TabPanel>
      {may && (
        <p className="no-print mt-3 flex flex-wrap gap-2">
          <button
            className="btn btn-primary btn-sm"
            disabled={accept.isPending || (score.accepted && !changed && score.moved.length === 0)}
            onClick={() => accept.mutate({ pieces: kept(score), version: score.version })}
          >
            {score.accepted ? 'Accept it as it stands now' : 'Accept the plan'}
          </button>
          {changed && (
            <button
              className="btn btn-sm"
              onClick={() => {
                clear()
                setAnew(false)
                setSettings(undefined)
              }}
            >
              Back to what was
            </button>
          )}
          {score.accepted && !anew && (
            <>
              <button className="btn btn-sm" onClick={() => setAnew(true)}>
                Plan all anew
              </button>
              <button
                className="btn btn-sm"
                disabled={accept.isPending}
                onClick={() => accept.mutate({ pieces: [], version: score.version })}
              >
                Drop the plan
              </button>
            </>
          )}
        </p>
      )}
      <div className="no-print mt-2 flex flex-wrap items-center gap-x-4 text-sm">
        For the wall:
        <a className="link" href="/api/v1/season/score.pdf?paper=a3" target="_blank" rel="noreferrer">
          A3
        </a>
        <a className="link" href="/api/v1/season/score.pdf?paper=a4" target="_blank" rel="noreferrer">
          A4
        </a>
        {changed && <span className="quiet">On paper your changes stand once they are accepted.</span>}
      </div>
    </div>
  )
}

/** What is kept of a plan: every piece that has a week. */
const kept = (score: Score): Schemas['SeasonPiece'][] =>
  score.pieces.flatMap((p) => {
    const monday = p.week === null ? undefined : score.weeks[p.week]?.monday
    return monday ? [{ instrument_id: p.instrument_id, work: p.work, monday, pinned: p.pinned }] : []
  })

/** What the plan costs, and how late it is; the one number that it makes as small as can be stands under why. */
function Costs({ score }: { score: Score }) {
  const [asked, setAsked] = useState(false)
  const { costs, lateness } = score
  const paid = [
    ['the van', costs.van_cents],
    ['shops', costs.shop_cents],
    ['parts thrown away early', costs.thrown_cents],
  ] as const
  const late = [
    `${count(lateness.weeks, 'week')} of lateness by weight`,
    lateness.waiting > 0 && `${count(lateness.waiting, 'piece')} of ${number(score.pieces.length)} find no week`,
    lateness.absent_weeks > 0 && `${count(lateness.absent_weeks, 'week')} of playing lost`,
  ].filter(Boolean)
  return (
    <div className="text-sm">
      <p>
        What it costs: <b>{money(costs.total_cents)}</b>{' '}
        <span className="quiet">
          {paid
            .filter(([, cents]) => cents > 0)
            .map(([name, cents]) => `${name} ${money(cents)}`)
            .join(', ')}
        </span>
      </p>
      <p>
        How late it is: {late.join(', ')}{' '}
        <button className="because" aria-expanded={asked} onClick={() => setAsked(!asked)}>
          why so
        </button>
      </p>
      {score.improving && (
        <p role="status" className="quiet">
          This is a first answer. It is being worked out, and gets better in a moment.
        </p>
      )}
      {asked && <Weighed score={score} />}
    </div>
  )
}

/** What the plan makes as small as can be: money and lateness in one number, by the school's weights. It is no bill. */
function Weighed({ score }: { score: Score }) {
  const { late, early, absent, trips, unplaced } = score.parts
  const parts = [
    ['the van', trips],
    ['late', late],
    ['early', early],
    ['lost playing', absent],
    ['waits beyond the season', unplaced],
  ] as const
  return (
    <p className="quiet">
      The plan makes one number as small as can be, in which a unit is one of money or a week late at weight one:{' '}
      <b>{units(score.total_cents)}</b> (
      {parts
        .filter(([, n]) => n > 0)
        .map(([name, n]) => `${name} ${units(n)}`)
        .join(', ')}
      ).{' '}
      {score.improving
        ? 'How near that is to the best is not known yet.'
        : `No plan can have under ${units(score.lower_bound_cents)}${score.above_best_pct >= 0.05 ? `, so this is at most ${score.above_best_pct.toFixed(1)} % above the best` : ''}.`}
    </p>
  )
}
