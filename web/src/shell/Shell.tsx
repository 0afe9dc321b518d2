import { lazy, Suspense, type ReactNode, useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { Link, useLocation, useNavigate } from 'react-router'
import { drop, useSendChecks, useWaiting, type Draft } from '../api/checks'
import { sendKept } from '../api/finish'
import { Problem, type Schemas } from '../api/client'
import { fetchInstruments, refresh, useHeader, useInstruments, useSession } from '../api/queries'
import { wordsOf, WordsContext } from '../api/words'
import { count, longDay, nearDay, shortDay } from '../words'
import { focusScanBox } from './focusScanBox'
import { useHeading } from './heading'
import { useKeys, useScanner } from './keys'
import { Legend } from './Legend'
import { NoticeBar, useNotice, NoticeProvider } from './notice'
import { Rail, views } from './Rail'
import { Waiting } from './Waiting'
import { WhyProvider } from './why'

/** A moment in which the browser has nothing better to do; not every browser can tell. */
const idle = () =>
  new Promise<unknown>((done) => {
    if ('requestIdleCallback' in window) requestIdleCallback(done, { timeout: 1000 })
    else setTimeout(done, 200)
  })

/** Whether such a moment has come since this was painted: what waits for it does not keep the page back. */
function useRested() {
  const [rested, setRested] = useState(false)
  useEffect(() => {
    const painted = (then: () => void) => requestAnimationFrame(() => requestAnimationFrame(then))
    painted(() => void idle().then(() => setRested(true)))
  }, [])
  return rested
}
const ScanBox = lazy(() => idle().then(() => import('./ScanBox')))
// Who is signed in needs neither.
const SignIn = lazy(() => import('../views/sign-in/SignIn'))
const NewPassword = lazy(() => import('../views/sign-in/NewPassword'))
const ChooseFactor = lazy(() => import('../views/sign-in/ChooseFactor'))

/** The frame around every view. Nobody gets past it without signing in. */
export function Shell({ children }: { children: ReactNode }) {
  const session = useSession()
  const { pathname } = useLocation()
  const out = session.error instanceof Problem && session.error.status === 401
  if (pathname === '/new-password')
    return (
      <Suspense>
        <NewPassword />
      </Suspense>
    )
  if (session.isPending) return null
  if (session.error) {
    if (out)
      return (
        <Suspense>
          <SignIn />
        </Suspense>
      )
    return (
      <main className="mx-auto max-w-md p-8">
        <h1>Solfeggio is not reachable</h1>
        <p className="my-4">{session.error.message}</p>
        <button className="btn btn-primary" onClick={() => void session.refetch()}>
          Try again
        </button>
      </main>
    )
  }
  if (session.data.lacks_factor)
    return (
      <Suspense>
        <NoticeProvider>
          <ChooseFactor />
        </NoticeProvider>
      </Suspense>
    )
  return (
    <NoticeProvider>
      <WhyProvider>
        <Frame>{children}</Frame>
      </WhyProvider>
    </NoticeProvider>
  )
}

function Frame({ children }: { children: ReactNode }) {
  const navigate = useNavigate()
  const { data: header, isPending, isFetching } = useHeader()
  const words = useMemo(() => header && wordsOf(header.words), [header])
  const { data: instruments } = useInstruments(useRested())
  const notice = useNotice()
  const [legend, setLegend] = useState(false)

  useScanner((text) => {
    const open = (all: Schemas['Listed'][]) => {
      const found = all.find((i) => i.tag === text.toUpperCase())
      if (found) void navigate(`/instruments/${found.id}`)
      return Boolean(found)
    }
    if (!instruments) void fetchInstruments().then(open, () => undefined)
    const found = open(instruments ?? [])
    const card = words !== undefined && text.toUpperCase().startsWith(words.card_code)
    if (card) void navigate(`/hand-out/players?card=${text.toUpperCase()}`)
    return found || card
  })
  const [going, setGoing] = useState(false)
  useKeys({
    '/': focusScanBox,
    '?': () => {
      setLegend(true)
    },
    g: () => {
      setGoing(true)
      setTimeout(() => {
        setGoing(false)
      }, 1500)
    },
    u: () => {
      notice.undo()
    },
    ...(going
      ? Object.fromEntries(
          views.map((v) => [
            v.key,
            () => {
              setGoing(false)
              void navigate(v.path)
            },
          ]),
        )
      : {}),
  })
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if ((e.ctrlKey || e.metaKey) && e.key === 'k') {
        e.preventDefault()
        focusScanBox()
      }
    }
    window.addEventListener('keydown', onKey)
    return () => {
      window.removeEventListener('keydown', onKey)
    }
  }, [])
  const { show } = notice
  useSendChecks(
    useCallback(
      (draft: Draft) => {
        const watched = location.pathname === `/instruments/${draft.instrument}/check`
        if (watched) return
        show(`The check of ${draft.tag} is saved.`)
        drop(draft)
      },
      [show],
    ),
  )
  const waiting = useWaiting()
  useEffect(() => {
    let timer = 0
    const attempt = () => {
      sendKept().then(
        ({ sent, refused }) => {
          const saved = sent > 0 ? `${count(sent, 'tick')} from before, now saved. ` : ''
          const not = refused.length > 0 ? `Not saved: ${refused.join(' ')}` : ''
          if (saved || not) show(saved + not)
          if (sent > 0) void refresh()
        },
        (problem: unknown) => {
          if (problem instanceof Problem && problem.passing) timer = window.setTimeout(attempt, 5000)
        },
      )
    }
    attempt()
    return () => {
      clearTimeout(timer)
    }
  }, [show])

  if (!header && (isPending || isFetching)) return null
  const frame = (
    <div className="frame grid min-h-dvh grid-rows-[auto_1fr_auto] md:h-dvh md:grid-cols-[136px_1fr] md:grid-rows-[52px_1fr]">
      <a
        href="#main"
        className="sr-only focus:not-sr-only focus:absolute focus:top-1 focus:left-1 focus:z-50 focus:bg-base-100 focus:p-2"
      >
        Skip to the page
      </a>
      <Rail onLegend={() => setLegend(true)} />
      <header className="line sticky top-0 z-20 flex flex-wrap items-center gap-x-4 gap-y-1 bg-base-100 px-4 py-2 md:flex-nowrap md:px-[22px] md:py-0">
        <Suspense fallback={<div className="h-[34px] w-full rounded-md border border-base-300 md:w-[380px]" />}>
          <ScanBox onLegend={() => setLegend(true)} />
        </Suspense>
        {header && (
          <p className="quiet text-sm md:ml-auto md:text-right md:text-base">
            <span className="sm:hidden">{nearDay(header.today)}</span>
            <span className="hidden sm:inline">{longDay(header.today)}</span>
            {header.week > 0 && `, week ${String(header.week)}`}
            {header.begin[0] && (
              <>
                {' · '}
                <Link to="/strings-reeds" className="font-bold text-warning">
                  {header.begin[0].what} by {shortDay(header.begin[0].by)}
                </Link>
              </>
            )}
            {header.concert && (
              <>
                {' · '}
                <Link to="/settings/calendar" className="font-bold text-base-content">
                  {header.concert.name}{' '}
                  {header.concert.days === 0 ? 'today' : `in ${count(header.concert.days, 'day')}`}
                </Link>
              </>
            )}
          </p>
        )}
      </header>
      {waiting > 0 && (
        <p role="status" className="fixed right-4 bottom-28 z-40 rounded-md bg-base-200 px-3 py-1 text-sm md:bottom-4">
          {count(waiting, 'check waits', 'checks wait')} for the server; kept here.
        </p>
      )}
      <Page>{children}</Page>
      <NoticeBar />
      <Waiting />
      {legend && <Legend onClose={() => setLegend(false)} />}
    </div>
  )
  return words ? <WordsContext value={words}>{frame}</WordsContext> : frame
}

function Page({ children }: { children: ReactNode }) {
  const main = useRef<HTMLElement>(null)
  useHeading(main)
  return (
    <main
      ref={main}
      id="main"
      tabIndex={-1}
      className="overflow-x-hidden px-4 pt-4 pb-20 md:overflow-y-auto md:px-[22px] md:pb-4"
    >
      {children}
    </main>
  )
}
