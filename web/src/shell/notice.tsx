// What was just done, for ten seconds, with the way to undo it.
import { createContext, useCallback, useContext, useEffect, useMemo, useState, type ReactNode } from 'react'
import { api, take } from '../api/client'
import { refresh } from '../api/queries'
import { useWrite } from '../api/write'

/** How what was just done is undone: by the events that it wrote, or by doing what leads back. */
type Way = string[] | (() => Promise<unknown>)
type Notice = { id: number; text: string; way: Way }
type Notices = { show: (text: string, way?: Way) => void; undo: () => void; current: Notice | null }

const canUndo = (n: Notice | null): n is Notice => n !== null && (typeof n.way === 'function' || n.way.length > 0)

const Context = createContext<Notices | null>(null)
const seconds = 10
let next = 0

export function useNotice() {
  const notices = useContext(Context)
  if (!notices) throw new Error('no NoticeProvider above')
  return notices
}

export function useUndo(after: (text: string) => void) {
  return useWrite({
    send: (events: string[]) => take(api.POST('/api/v1/undo', { body: { events } })),
    onSuccess: async ({ stays }) => {
      after(['Undone.', ...stays].join(' '))
      await refresh()
    },
    onError: (problem) => {
      after(problem.message)
    },
  })
}

export function NoticeProvider({ children }: { children: ReactNode }) {
  const [current, setCurrent] = useState<Notice | null>(null)
  const show = useCallback((text: string, way: Way = []) => {
    setCurrent({ id: next++, text, way })
  }, [])
  const { mutate } = useUndo(show)
  const undo = useCallback(() => {
    if (!canUndo(current)) return
    setCurrent(null)
    if (typeof current.way !== 'function') {
      mutate(current.way)
      return
    }
    current.way().then(
      async () => {
        show('Undone.')
        await refresh()
      },
      (problem: unknown) => {
        show((problem as Error).message)
      },
    )
  }, [current, mutate, show])
  const value = useMemo(() => ({ show, undo, current }), [show, undo, current])
  useEffect(() => {
    const timer = setTimeout(() => {
      setCurrent((now) => (now?.id === current?.id ? null : now))
    }, seconds * 1000)
    return () => {
      clearTimeout(timer)
    }
  }, [current])
  return <Context.Provider value={value}>{children}</Context.Provider>
}

export function NoticeBar() {
  const { current, undo } = useNotice()
  return (
    <div
      role="status"
      className="pointer-events-none fixed inset-x-0 bottom-16 z-40 flex justify-center px-4 md:bottom-4 md:pl-[136px]"
    >
      {current && (
        <p className="flex items-center gap-4 rounded-md bg-neutral px-4 py-2 text-neutral-content">
          {current.text}
          {canUndo(current) && (
            <button className="pointer-events-auto cursor-pointer font-bold underline" onClick={undo}>
              Undo
            </button>
          )}
        </p>
      )}
    </div>
  )
}
