import {
  DndContext,
  PointerSensor,
  TouchSensor,
  useDroppable,
  useSensor,
  useSensors,
  type DragOverEvent,
} from '@dnd-kit/core'
import { useVirtualizer } from '@tanstack/react-virtual'
import { useRef } from 'react'
import type { Schemas } from '../../api/client'
import { Tile } from './Tile'
import type { Shown } from './shown'
import { usePrinting } from '../../shell/printing'

type Props = {
  wall: Schemas['Wall']
  byTag: ReadonlyMap<string, Schemas['Listed']>
  shown: Shown
  onDrop: (id: string, slot: string) => void
}

/** The room as it stands: shelves from the top, slots from the left. An instrument is dragged to where it belongs. */
export function Wall({ wall, byTag, shown, onDrop }: Props) {
  const box = useRef<HTMLDivElement>(null)
  const printing = usePrinting()
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(TouchSensor, { activationConstraint: { delay: 250, tolerance: 8 } }),
  )
  const rows = wall.elsewhere.length > 0 ? wall.shelves.length + 1 : wall.shelves.length
  // eslint-disable-next-line react-hooks/incompatible-library -- the virtualizer keeps its own state; nothing here is memoized on it
  const virtual = useVirtualizer({
    count: rows,
    getScrollElement: () => box.current,
    estimateSize: () => 72,
    overscan: printing ? rows : 4,
  })
  const tile = (tag: string) => {
    const i = byTag.get(tag)
    return (
      i && (
        <Tile
          key={tag}
          instrument={i}
          inView={shown.inView(i)}
          selected={shown.selected.has(i.id)}
          here={shown.here === i.id}
          movable={shown.movable}
        />
      )
    )
  }
  const spoken = ({ active, over }: Pick<DragOverEvent, 'active' | 'over'>) => {
    const tag = Array.from(byTag.values()).find((i) => i.id === active.id)?.tag ?? ''
    return over ? `${tag} over ${String(over.id)}` : `${tag} over no slot`
  }
  return (
    <DndContext
      sensors={sensors}
      accessibility={{
        announcements: { onDragStart: spoken, onDragOver: spoken, onDragEnd: spoken, onDragCancel: spoken },
      }}
      onDragEnd={({ active, over }) => {
        if (over) onDrop(String(active.id), String(over.id))
      }}
    >
      <div ref={box} className="mt-2 min-h-64 flex-1 overflow-y-auto" role="region" aria-label="Wall" tabIndex={0}>
        <div className="as-rows relative" style={{ height: virtual.getTotalSize() }}>
          {virtual.getVirtualItems().map((item) => {
            const shelf = wall.shelves[item.index]
            const last = wall.shelves[item.index - 1]
            return (
              <div
                key={shelf?.id ?? 'elsewhere'}
                data-index={item.index}
                ref={virtual.measureElement}
                className="absolute inset-x-0 top-0 pb-1"
                style={{ transform: `translateY(${String(item.start)}px)` }}
              >
                {shelf ? (
                  <div className="flex items-stretch gap-2">
                    <div className="w-8 shrink-0 pt-1 md:w-14 md:self-end md:pb-3">
                      {shelf.rack && shelf.rack !== last?.rack && (
                        <p className="quiet hidden text-[11px] leading-tight md:block print:block">{shelf.rack}</p>
                      )}
                      <h2>{shelf.name}</h2>
                    </div>
                    <div className="grid flex-1 grid-cols-[repeat(auto-fit,minmax(56px,1fr))] border-b-4 border-base-content">
                      {shelf.places.map((p) => (
                        <Slot key={p.name} name={p.name}>
                          {p.tags.map(tile)}
                        </Slot>
                      ))}
                    </div>
                  </div>
                ) : (
                  <div className="pt-2">
                    <h2>In no slot of this room</h2>
                    <div className="mt-1 grid grid-cols-[repeat(auto-fill,minmax(58px,1fr))]">
                      {wall.elsewhere.map(tile)}
                    </div>
                  </div>
                )}
              </div>
            )
          })}
        </div>
      </div>
    </DndContext>
  )
}

function Slot({ name, children }: { name: string; children: React.ReactNode }) {
  const { setNodeRef, isOver } = useDroppable({ id: name })
  return (
    <div
      ref={setNodeRef}
      title={name}
      data-slot={name}
      data-over={isOver || undefined}
      className="min-h-14 border-l border-base-300 last:border-r data-over:bg-primary/20"
    >
      {children}
    </div>
  )
}
