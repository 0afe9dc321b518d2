import { QueryClientProvider } from '@tanstack/react-query'
import { lazy, StrictMode, Suspense } from 'react'
import { createRoot } from 'react-dom/client'
import { BrowserRouter, Navigate, Route, Routes } from 'react-router'
import './app.css'
import { queryClient } from './api/client'
import { askAhead, askTodayAhead } from './api/queries'
import { forgetAnswers } from './api/unchanged'
import { NotThere } from './shell/NotThere'
import { Shell } from './shell/Shell'
import { applyTheme, chosenTheme } from './shell/theme'
import Today from './views/today/Today'

const Room = lazy(() => import('./views/room/Room'))
const Add = lazy(() => import('./views/room/Add'))
const Instrument = lazy(() => import('./views/instrument/Instrument'))
const Check = lazy(() => import('./views/check/Check'))
const Diagnose = lazy(() => import('./views/diagnose/Diagnose'))
const HandOut = lazy(() => import('./views/hand-out/HandOut'))
const Give = lazy(() => import('./views/hand-over/Give'))
const Back = lazy(() => import('./views/hand-over/Back'))
const Bench = lazy(() => import('./views/bench/Bench'))
const Run = lazy(() => import('./views/bench/Run'))
const InstrumentRecord = lazy(() => import('./views/bench/InstrumentRecord'))
const StringsReeds = lazy(() => import('./views/strings-reeds/StringsReeds'))
const Change = lazy(() => import('./views/strings-reeds/Change'))
const Shop = lazy(() => import('./views/shop/Shop'))
const Job = lazy(() => import('./views/shop/Job'))
const Season = lazy(() => import('./views/season/Season'))
const Supplies = lazy(() => import('./views/supplies/Supplies'))
const Cards = lazy(() => import('./views/cards/Cards'))
const PackUpBoard = lazy(() => import('./views/cards/Board'))
const ClassDrill = lazy(() => import('./views/cards/ClassDrill'))
const Stocktake = lazy(() => import('./views/stocktake/Stocktake'))
const Help = lazy(() => import('./views/help/Help'))
const Settings = lazy(() => import('./views/settings/Settings'))

applyTheme(chosenTheme())
askAhead()
if (location.pathname === '/') askTodayAhead()
if ('serviceWorker' in navigator) keepForAWalk(navigator.serviceWorker)

/** Has what a walk without a network needs kept, once the page stands. What was read before anybody kept it is read again. */
function keepForAWalk(workers: ServiceWorkerContainer) {
  if (!workers.controller)
    workers.addEventListener(
      'controllerchange',
      () => {
        forgetAnswers()
        void queryClient.refetchQueries({ type: 'active', predicate: (q) => q.state.data !== undefined })
      },
      { once: true },
    )
  const begin = () =>
    void workers.register('/sw.js').then(() => workers.ready.then((worker) => worker.active?.postMessage('keep')))
  window.addEventListener('load', () => setTimeout(begin, 1000))
}

const root = document.getElementById('root')
if (!root) throw new Error('the page has no root')
createRoot(root).render(
  <StrictMode>
    <QueryClientProvider client={queryClient}>
      <BrowserRouter>
        <Shell>
          <Suspense>
            <Routes>
              <Route path="/" element={<Today />} />
              <Route path="/room" element={<Room />} />
              <Route path="/room/add" element={<Add />} />
              <Route path="/instruments/:id" element={<Instrument />} />
              <Route path="/instruments/:id/check" element={<Check />} />
              <Route path="/instruments/:id/diagnose" element={<Diagnose />} />
              <Route path="/hand-out" element={<HandOut />} />
              <Route path="/hand-out/:page" element={<HandOut />} />
              <Route path="/hand-out/:instrument/to/:player" element={<Give />} />
              <Route path="/instruments/:id/return" element={<Back />} />
              <Route path="/instruments/:id/record" element={<InstrumentRecord />} />
              <Route path="/bench" element={<Bench />} />
              <Route path="/bench/:page" element={<Bench />} />
              <Route path="/bench/runs/:id" element={<Run />} />
              <Route path="/strings-reeds" element={<StringsReeds />} />
              <Route path="/strings-reeds/:page" element={<StringsReeds />} />
              <Route path="/instruments/:id/renewal/:part" element={<Change />} />
              <Route path="/cards" element={<Cards />} />
              <Route path="/cards/:page" element={<Cards />} />
              <Route path="/pack-up/:ensemble/:phase" element={<PackUpBoard />} />
              <Route path="/drill/:ensemble/:kind" element={<ClassDrill />} />
              <Route path="/shop" element={<Shop />} />
              <Route path="/shop/:page" element={<Shop />} />
              <Route path="/shop/jobs/:id" element={<Job />} />
              <Route path="/season" element={<Season />} />
              <Route path="/season/:page" element={<Season />} />
              <Route path="/supplies" element={<Supplies />} />
              <Route path="/supplies/:page" element={<Supplies />} />
              <Route path="/stocktake" element={<Stocktake />} />
              <Route path="/help" element={<Help />} />
              <Route path="/help/:page" element={<Help />} />
              <Route path="/settings" element={<Navigate to="/settings/school" replace />} />
              <Route path="/settings/:page" element={<Settings />} />
              <Route path="*" element={<NotThere />} />
            </Routes>
          </Suspense>
        </Shell>
      </BrowserRouter>
    </QueryClientProvider>
  </StrictMode>,
)
