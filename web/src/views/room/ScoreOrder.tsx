import { useVirtualizer } from '@tanstack/react-virtual'
import { useEffect, useMemo, useRef, useState } from 'react'
import type { Schemas } from '../../api/client'
import type { Shown } from './shown'
import { StillTile } from './Tile'
import { usePrinting } from '../../shell/printing'

const tileWidth = 58
const headingWidth = (all: number) => (all < 500 ? 84 : 130)

/** All rooms in one: a row for each section, as in a score. */
export function ScoreOrder({ rows, shown }: { rows: Schemas['Listed'][]; shown: Shown }) {
  const box = useRef<HTMLDivElement>(null)
  const printing = usePrinting()
  const [across, setAcross] = useState(16)
  useEffect(() => {
    const element = box.current
    if (!element) return
    const observer = new ResizeObserver(() => {
      setAcross(Math.max(3, Math.floor((element.clientWidth - headingWidth(element.clientWidth)) / tileWidth)))
    })
    observer.observe(element)
    return () => observer.disconnect()
  }, [])
  const lines = useMemo(() => {
    const out: { section: string; many: number; tiles: Schemas['Listed'][] }[] = []
    const sections = [...new Set(rows.map((i) => i.section))]
    for (const section of sections) {
      const all = rows.filter((i) => i.section === section)
      for (let n = 0; n < all.length; n += across)
        out.push({ section: n === 0 ? section : '', many: all.length, tiles: all.slice(n, n + across) })
    }
    return out
  }, [rows, across])
  // eslint-disable-next-line react-hooks/incompatible-library -- the virtualizer keeps its own state; nothing here is memoized on it
  const virtual = useVirtualizer({
    count: lines.length,
    getScrollElement: () => box.current,
    estimateSize: () => 58,
    overscan: printing ? lines.length : 4,
  })
  return (
    <div ref={box} className="mt-2 min-h-64 flex-1 overflow-y-auto" role="region" aria-label="Score order" tabIndex={0}>
      <div className="as-rows relative" style={{ height: virtual.getTotalSize() }}>
        {virtual.getVirtualItems().map((item) => {
          const line = lines[item.index]
          if (!line) return null
          return (
            <div
              key={item.index}
              className={`absolute inset-x-0 top-0 flex ${line.section ? 'border-t border-base-300' : ''}`}
              style={{ transform: `translateY(${String(item.start)}px)`, height: item.size }}
            >
              <h2 className="w-[84px] shrink-0 border-r-2 border-base-content pt-2 pr-2 text-right text-sm leading-tight md:w-[130px] md:text-base">
                {line.section}{' '}
                {line.section && <span className="quiet font-sans text-sm font-normal">{line.many}</span>}
              </h2>
              {line.tiles.map((i) => (
                <div key={i.id} className="w-[58px]">
                  <StillTile instrument={i} inView selected={shown.selected.has(i.id)} here={shown.here === i.id} />
                </div>
              ))}
            </div>
          )
        })}
      </div>
    </div>
  )
}
