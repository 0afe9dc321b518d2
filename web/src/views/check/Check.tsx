import { useEffect } from 'react'
import { useNavigate, useParams } from 'react-router'
import { begin, drop, keep, newAnswer, useDrafts, type Answer, type Draft } from '../../api/checks'
import type { Schemas } from '../../api/client'
import { useMay, useSheet } from '../../api/queries'
import { Drawing } from '../../drawings/Drawing'
import { useKeys } from '../../shell/keys'
import { Ended } from './Ended'
import { Point } from './Point'
import { Summary } from './Summary'

/** The walk along an instrument: one point at a time, looking right is one tap. */
export default function Check() {
  const { id = '' } = useParams()
  const { data: sheet, error } = useSheet(id)
  const drafts = useDrafts()
  const draft = drafts.get(id)
  const may = useMay('inspect')

  useEffect(() => {
    if (sheet && !draft && may) keep(begin(sheet))
  }, [sheet, draft, may])
  // An answer to a finished walk is shown once.
  useEffect(
    () => () => {
      if (draft?.result) drop(draft)
    },
    [draft],
  )

  if (error && !sheet)
    return (
      <p role="alert">{error.message} This check was not opened while there was a network, so it is not kept here.</p>
    )
  if (!sheet) return <p className="quiet">Laying the tools out…</p>
  if (!may) return <p>Only people who may inspect do this.</p>
  if (!draft) return null
  return draft.finished ? <Ended sheet={sheet} draft={draft} /> : <Walk sheet={sheet} draft={draft} />
}

function Walk({ sheet, draft }: { sheet: Schemas['Sheet']; draft: Draft }) {
  const navigate = useNavigate()
  const points = sheet.points
  const point = points[draft.at]
  const answer = (point && draft.answers[point.key]) ?? newAnswer()
  const go = (at: number) => keep({ ...draft, at: Math.max(0, Math.min(points.length, at)) })
  const say = (a: Answer, at = draft.at) =>
    point && keep({ ...draft, at, answers: { ...draft.answers, [point.key]: a } })
  const right = () => say({ right: true, findings: [], measured: answer.measured }, draft.at + 1)
  const avoidable = (code: string) => point?.answers.find((a) => a.code === code)?.avoidable ?? false
  const toggle = (code: string) => {
    const has = answer.findings.some((f) => f.code === code)
    const findings = has
      ? answer.findings.filter((f) => f.code !== code)
      : [...answer.findings, { code, note: '', photos: [], avoidable: avoidable(code) }]
    say({ ...answer, right: false, findings })
  }
  const answered = answer.right || answer.findings.length > 0 || answer.measured.trim() !== ''
  const next = () => {
    if (!answered) return
    if (answer.findings.length === 0) right()
    else go(draft.at + 1)
  }
  useKeys({
    ...Object.fromEntries(
      (point?.answers ?? []).slice(0, 8).map((a, n) => [String(n + 2), () => toggle(a.code)] as const),
    ),
    ...(point ? { '1': right, Enter: next } : {}),
    k: () => go(draft.at - 1),
    j: () => answered && go(draft.at + 1),
    Escape: () => void navigate(`/instruments/${draft.instrument}`),
  })

  return (
    <article className="mx-auto max-w-5xl">
      <header className="flex items-baseline gap-2">
        <h1 className="text-base">
          <b className="font-sans tracking-wide">{sheet.instrument.tag}</b>{' '}
          <span className="font-sans font-normal">
            {sheet.instrument.kind_name} {sheet.instrument.size}
          </span>
        </h1>
        <span className="quiet ml-auto">
          {Math.min(draft.at + 1, points.length)} of {points.length}
        </span>
      </header>
      <div className="mt-1 grid gap-x-8 md:grid-cols-[minmax(260px,380px)_1fr]">
        <Drawing
          name={sheet.instrument.drawing}
          label={`Drawing of a ${sheet.instrument.kind_name.toLowerCase()}`}
          className="mx-auto h-[32dvh] min-h-52 w-full md:h-[62dvh]"
          points={points.map((p, n) => ({
            key: p.key,
            number: n + 1,
            spot: p.spot,
            title: p.title,
            tone: n === draft.at ? 'now' : draft.answers[p.key]?.findings.length ? 'found' : 'right',
          }))}
          onPoint={(key) => go(points.findIndex((p) => p.key === key))}
        />
        {point ? (
          <Point
            key={point.key}
            point={point}
            answer={answer}
            caution={draft.at === 0 ? sheet.cautions : []}
            error={draft.refused?.fields[`answers[${String(Object.keys(draft.answers).indexOf(point.key))}].measured`]}
            onRight={right}
            onToggle={toggle}
            onAnswer={(a) => say(a)}
            onNext={next}
            onBack={draft.at > 0 ? () => go(draft.at - 1) : undefined}
          />
        ) : (
          <Summary sheet={sheet} draft={draft} onPoint={go} />
        )}
      </div>
    </article>
  )
}
