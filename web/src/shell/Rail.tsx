import {
  AudioWaveform,
  CircleHelp,
  Droplets,
  HandHelping,
  LogOut,
  Moon,
  Music,
  Package,
  Settings,
  Sun,
  Warehouse,
  Wrench,
} from 'lucide-react'
import { NavLink } from 'react-router'
import { api, queryClient, take } from '../api/client'
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
      navigator.serviceWorker?.controller?.postMessage('forget')
      location.assign('/')
    },
    onError: (problem) => {
      notice.show(problem.message)
    },
  })
  return mutate
}

export function Rail({ onLegend }: { onLegend: () => void }) {
  const { data: session } = useSession()
  const signOut = useSignOut()
  return (
    <nav
      aria-label="Views"
      className="fixed inset-x-0 bottom-0 z-30 flex overflow-x-auto border-t border-base-300 bg-base-100 md:static md:row-span-2 md:flex-col md:gap-px md:border-t-0 md:border-r md:py-2.5"
    >
      <p className="hidden px-3.5 pt-2 pb-3.5 font-display text-[19px] font-semibold md:block">Solfeggio</p>
      {views.map(({ path, name, Sign }) => (
        <NavLink
          key={path}
          to={path}
          end={path === '/'}
          className={({ isActive }) =>
            `flex min-w-15 flex-1 flex-col items-center gap-1 border-primary py-1.5 text-center text-xs md:min-w-0 md:flex-none md:text-left md:flex-row md:gap-2 md:border-l-3 md:px-3 md:py-2 md:text-sm ${
              isActive ? 'bg-base-200 font-bold text-base-content md:border-primary' : 'quiet md:border-transparent'
            }`
          }
        >
          <Sign size={17} aria-hidden />
          {name}
        </NavLink>
      ))}
      <div className="quiet mt-auto hidden px-3 pb-1 text-sm md:block">
        <button className="flex w-full cursor-pointer items-center gap-2 py-1.5" onClick={onLegend}>
          <CircleHelp size={17} aria-hidden /> Keys, marks
        </button>
        <button className="flex w-full cursor-pointer items-center gap-2 py-1.5" onClick={toggleTheme}>
          <Moon size={17} aria-hidden /> Light, dark
        </button>
        <button className="flex w-full cursor-pointer items-center gap-2 py-1.5" onClick={() => signOut()}>
          <LogOut size={17} aria-hidden /> Sign out
        </button>
        <p className="mt-1 border-t border-base-300 pt-2 text-xs">
          {session?.person.name}, {session?.person.role}
        </p>
      </div>
    </nav>
  )
}
