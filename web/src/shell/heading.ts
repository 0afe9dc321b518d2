import { useEffect, type RefObject } from 'react'
import { useLocation } from 'react-router'

const said = (heading: Element) =>
  (heading.querySelector('select')?.selectedOptions[0] ?? heading).textContent.replace(/\s+/g, ' ').trim()

/** Names the browser's page after its heading, and takes the focus there when another page is opened. */
export function useHeading(main: RefObject<HTMLElement | null>) {
  const { pathname } = useLocation()
  useEffect(() => {
    const page = main.current
    if (!page) return
    const before = document.activeElement
    let opened = document.title === 'Solfeggio' // the first page is read from its beginning
    const look = () => {
      const heading = page.querySelector('h1')
      document.title = heading ? `${said(heading)} · Solfeggio` : 'Solfeggio'
      if (!heading || opened) return
      opened = true
      const busy = document.activeElement !== before && document.activeElement !== document.body
      if (busy) return // the page has put the focus somewhere itself
      heading.tabIndex = -1
      heading.focus({ preventScroll: true })
    }
    look()
    const watch = new MutationObserver(look)
    watch.observe(page, { childList: true, subtree: true, characterData: true })
    return () => {
      watch.disconnect()
    }
  }, [main, pathname])
}
