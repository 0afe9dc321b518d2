import {
  AudioWaveform,
  BookOpen,
  CircleHelp,
  Droplets,
  Ellipsis,
  HandHelping,
  IdCard,
  LogOut,
  Moon,
  Music,
  Package,
  Settings,
  Sun,
  Warehouse,
  Wrench,
} from 'lucide-react'
import { useState } from 'react'
import { Link, NavLink, useLocation } from 'react-router'
import { api, queryClient, take } from '../api/client'
import { forgetAnswers } from '../api/unchanged'
import { useSession } from '../api/queries'
import { forgetDrafts } from '../api/drafts'
import { useWrite } from '../api/write'
import { useNotice } from './notice'
import { toggleTheme } from './theme'

/** The views in the order of the rail; `g` and the key go there. */
export const views = [
  { path: '/', name: 'Today', key: 't', Sign: Sun },
  { path: '/room', name: 'Room', key: 'r', Sign: Warehouse },
  { path: '/hand-out', name: 'Hand-out', key: 'h', Sign: HandHelping },
  { path: '/bench', name: 'Bench', key: 'b', Sign: Droplets },
  { path: '/strings-reeds', name: 'Strings & Reeds', key: 'e', Sign: AudioWaveform },
  { path: '/shop', name: 'Shop', key: 'w', Sign: Wrench },
  { path: '/season', name: 'Season', key: 'n', Sign: Music },
  { path: '/supplies', name: 'Supplies', key: 'p', Sign: Package },
  { path: '/cards', name: 'Cards', key: 'c', Sign: IdCard },
  { path: '/settings', name: 'Settings', key: 's', Sign: Settings },
] as const

/** Signs out. Without an answer one is still signed in, and what was noted stays. */
export function useSignOut() {
  const notice = useNotice()
  const { mutate } = useWrite({
    send: () => take(api.DELETE('/api/v1/session')),
    onSuccess: () => {
      forgetDrafts()
      queryClient.clear()
      forgetAnswers()
      navigator.serviceWorker?.controller?.postMessage('forget')
      location.assign('/')
    },
    onError: (problem) => {
      notice.show(problem.message)
    },
  })
  return mutate
}

// So many views stand in the bar of a phone; the others are behind More.
const inBar = 4

const entry = 'flex w-full cursor-pointer items-center gap-2 py-1.5' as const

/** The chapter of the guide about a page. */
function chapterOf(path: string) {
  const [, view = '', , deed = ''] = path.split('/')
  if (deed === 'check' || deed === 'diagnose') return 'check'
  return { '': 'today', instruments: 'room', stocktake: 'room', help: 'today' }[view] ?? view
}

export function Rail({ onLegend }: { onLegend: () => void }) {
  const { data: session } = useSession()
  const { pathname } = useLocation()
  const signOut = useSignOut()
  const [more, setMore] = useState(false)
  const away = views.slice(inBar).some((v) => pathname.startsWith(v.path))
  const rest = (
    <>
      <Link className={entry} to={`/help/${chapterOf(pathname)}`}>
        <BookOpen size={17} aria-hidden /> Guide
      </Link>
      <button className={entry} onClick={onLegend}>
        <CircleHelp size={17} aria-hidden /> Keys, marks
      </button>
      <button className={entry} onClick={toggleTheme}>
        <Moon size={17} aria-hidden /> Light, dark
      </button>
      <button className={entry} onClick={() => signOut()}>
        <LogOut size={17} aria-hidden /> Sign out
      </button>
      <p className="mt-1 border-t border-base-300 pt-2 text-xs">
        {session?.person.name}, {session?.person.role}
      </p>
    </>
  )
  return (
    <nav
      aria-label="Views"
      className="fixed inset-x-0 bottom-0 z-30 flex border-t border-base-300 bg-base-100 md:static md:row-span-2 md:flex-col md:gap-px md:border-t-0 md:border-r md:py-2.5"
      onKeyDown={(e) => e.key === 'Escape' && setMore(false)}
      onClick={() => setMore(false)}
    >
      <p className="hidden px-3.5 pt-2 pb-3.5 font-display text-[19px] font-semibold md:block">Solfeggio</p>
      {views.map((view, n) => (
        <View key={view.path} view={view} className={n < inBar ? 'flex' : 'hidden md:flex'} />
      ))}
      <button
        className={`flex min-w-0 flex-1 cursor-pointer flex-col items-center gap-1 py-1.5 text-xs md:hidden ${away || more ? 'bg-base-200 font-bold' : 'quiet'}`}
        aria-expanded={more}
        onClick={(e) => {
          e.stopPropagation()
          setMore(!more)
        }}
      >
        <Ellipsis size={17} aria-hidden />
        More
      </button>
      {more && (
        <div className="absolute inset-x-0 bottom-full grid grid-cols-2 gap-x-4 border-t border-base-300 bg-base-100 px-4 pt-2 pb-3 md:hidden">
          <div>
            {views.slice(inBar).map(({ path, name, Sign }) => (
              <NavLink
                key={path}
                to={path}
                className={({ isActive }) => `${entry} text-sm ${isActive ? 'font-bold' : ''}`}
              >
                <Sign size={17} aria-hidden />
                {name}
              </NavLink>
            ))}
          </div>
          <div className="quiet text-sm">{rest}</div>
        </div>
      )}
      <div className="quiet mt-auto hidden px-3 pb-1 text-sm md:block">{rest}</div>
    </nav>
  )
}

function View({ view: { path, name, Sign }, className }: { view: (typeof views)[number]; className: string }) {
  return (
    <NavLink
      to={path}
      end={path === '/'}
      className={({ isActive }) =>
        `${className} min-w-0 flex-1 flex-col items-center gap-1 border-primary py-1.5 text-center text-xs md:flex-none md:flex-row md:gap-2 md:border-l-3 md:px-3 md:py-2 md:text-left md:text-sm ${
          isActive ? 'bg-base-200 font-bold text-base-content md:border-primary' : 'quiet md:border-transparent'
        }`
      }
    >
      <Sign size={17} aria-hidden />
      {name}
    </NavLink>
  )
}
