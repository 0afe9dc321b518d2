import { useState } from 'react'
import { Link, useParams, useSearchParams } from 'react-router'
import { newFinish, stillStopped, useFinish } from '../../api/finish'
import { useInstrumentFile, useMay, useSheet } from '../../api/queries'
import { useWords } from '../../api/words'
import { Mark } from '../../marks/Mark'
import { useNotice } from '../../shell/notice'
import { fullDay, money } from '../../words'
import { Unsaved } from '../../shell/Unsaved'
import { TabPanel, Tabs } from '../../shell/Tabs'
import { Condition } from './Condition'
import { Details } from './Details'
import { Held } from './Held'
import { Kit } from './Kit'
import { Promised } from './Promised'
import { Rented } from './Rented'
import { Routines } from './Routines'
import { ToShop } from './ToShop'
import { Timeline } from './Timeline'
import { Wear } from './Wear'

const pages = ['Condition', 'Wear', 'Kit', 'Routines', 'Details'] as const
type Page = (typeof pages)[number]

/** The file of one instrument: how worn its parts are, how it is cared for, what happened to it. */
export default function Instrument() {
  const { mark } = useWords()
  const { id = '' } = useParams()
  const { data: file, error } = useInstrumentFile(id)
  const [asked] = useSearchParams()
  const routine = asked.get('routine')
  const diagnosed = asked.has('to-shop')
  const [chosen, setPage] = useState<Page | null>(null)
  const [toShop, setToShop] = useState(diagnosed)
  const notice = useNotice()
  const may = useMay('finish care')
  const mayInspect = useMay('inspect')
  const mayChange = useMay('change instruments')
  useSheet(id) // so that a check can begin here also where there is no network
  const finish = useFinish((result) => {
    const done = result.already.length > 0 ? 'Somebody had ticked this off today already.' : 'Done.'
    notice.show(done + stillStopped(result), result.events)
  })

  if (error && !file) return <p role="alert">{error.message}</p>
  if (!file) return <p className="quiet">Opening the case…</p>
  const { listed, instrument } = file
  const page = chosen ?? (routine ? 'Routines' : file.findings.length > 0 ? 'Condition' : 'Wear')
  return (
    <article>
      <header className="flex flex-wrap items-center gap-x-3 gap-y-1 static">
        <Mark name={listed.mark} />
        <h1>
          {listed.tag}{' '}
          <span className="font-normal">
            {listed.kind_name} {listed.size}
          </span>
        </h1>
        <p className="quiet">
          {listed.stopped && <b className="text-error">Stopped: {listed.stopped}. </b>}
          {listed.late + listed.due > 0
            ? [listed.late > 0 && `${String(listed.late)} late`, listed.due > 0 && `${String(listed.due)} due`]
                .filter(Boolean)
                .join(', ')
            : !listed.stopped && mark(listed.mark)}
        </p>
        <span className="no-print flex gap-1.5 md:ml-auto">
          {mayInspect && (
            <Link className="btn btn-sm" to={`/instruments/${listed.id}/check`}>
              Check
            </Link>
          )}
          {mayChange && listed.played && (
            <Link className="btn btn-sm" to={`/instruments/${listed.id}/return`}>
              Return
            </Link>
          )}
          {mayChange && !listed.played && !listed.held && !listed.stopped && !instrument.gone_on && (
            <Link className="btn btn-sm" to={`/hand-out/players?for=${listed.id}`}>
              Hand out
            </Link>
          )}
          {file.job ? (
            <Link className="btn btn-sm" to={`/shop/jobs/${file.job.id}`}>
              Shop: {file.job.words}
            </Link>
          ) : (
            mayChange &&
            !instrument.gone_on && (
              <button className="btn btn-sm" aria-expanded={toShop} onClick={() => setToShop(!toShop)}>
                To a shop
              </button>
            )
          )}
          <Link className="btn btn-sm" to={`/instruments/${listed.id}/diagnose`}>
            What is wrong?
          </Link>
          <Link className="btn btn-sm" to={`/cards?open=${listed.id}`}>
            Card
          </Link>
        </span>
        <Tabs
          id="file"
          label="Pages of the file"
          className="basis-full flex-wrap"
          pages={pages.map((p) => [p, p] as const)}
          at={page}
          onChoose={setPage}
        />
      </header>
      <dl className="quiet mt-1 flex flex-wrap gap-x-5 text-sm">
        {(
          [
            ['', [instrument.maker, instrument.model].filter(Boolean).join(' ')],
            ['serial ', instrument.serial],
            ['body ', file.bodies.find((b) => b.key === instrument.body)?.name],
            ['', [instrument.room, instrument.slot].filter(Boolean).join(' ')],
            ['in the hands of ', listed.holder],
            [
              listed.class_set ? 'a class set, nobody named has it: plays in ' : 'plays in ',
              listed.ensembles.join(', '),
            ],
            ['due back ', file.hand_over?.due_back_on && fullDay(file.hand_over.due_back_on)],
            ['rented from ', file.rental?.owner],
            ['goes back by ', file.rental?.return_by && fullDay(file.rental.return_by)],
            ['repairs so far ', file.spent_cents > 0 && money(file.spent_cents)],
          ] as const
        )
          .filter(([, text]) => text)
          .map(([word, text]) => (
            <div key={word + (text ?? '')}>
              <dt className="inline">{word}</dt>
              <dd className="inline text-base-content">{text}</dd>
            </div>
          ))}
      </dl>
      <Promised of={listed} />
      {instrument.gone_on && (
        <p className="mt-3 border-l-3 border-warning pl-3">
          <b>Not at the school since {fullDay(instrument.gone_on)}:</b> {instrument.gone_how}. Its history stays.
        </p>
      )}
      {toShop && !file.job && <ToShop file={file} diagnosed={diagnosed} onClose={() => setToShop(false)} />}
      {file.job?.back && (
        <p className="mt-3 border-l-3 border-warning pl-3">
          It is back from the shop.{' '}
          <Link className="link" to={`/shop/jobs/${file.job.id}`}>
            Look it over and check it in
          </Link>
          .
        </p>
      )}
      {listed.held && !file.job?.back && <Held key={listed.id} instrument={listed} run={file.bench} />}
      <Unsaved finish={finish} />
      <div className="mt-4 grid gap-8 lg:grid-cols-[1fr_340px]">
        <div>
          <TabPanel of="file" at={page}>
            {page === 'Condition' && <Condition file={file} />}
            {page === 'Wear' && (
              <Wear
                parts={file.parts}
                onDone={
                  may
                    ? ({ instrument_id, routine, part }) => finish.mutate(newFinish([{ instrument_id, routine, part }]))
                    : undefined
                }
              />
            )}
            {page === 'Routines' && <Routines file={file} open={routine} />}
            {page === 'Kit' && <Kit key={listed.id} file={file} />}
            {page === 'Details' && (
              <>
                <Details key={instrument.version} file={file} />
                {mayChange && !instrument.gone_on && <Rented key={file.rental?.version ?? 0} file={file} />}
              </>
            )}
          </TabPanel>
        </div>
        <Timeline of={file} />
      </div>
    </article>
  )
}
