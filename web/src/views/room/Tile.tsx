import { useDraggable } from '@dnd-kit/core'
import { memo, type ComponentProps } from 'react'
import { Link } from 'react-router'
import type { Schemas } from '../../api/client'
import { Drawing } from '../../drawings/Drawing'
import { useWords } from '../../api/words'
import { Mark } from '../../marks/Mark'

type Props = {
  instrument: Schemas['Listed']
  /** It fits the filters. */
  inView: boolean
  selected: boolean
  here: boolean
}

/** An instrument as it stands: outline, mark, tag. */
function Face({ instrument: i, inView, selected, here, ...link }: Props & Omit<ComponentProps<typeof Link>, 'to'>) {
  const { mark } = useWords()
  return (
    <Link
      {...link}
      to={`/instruments/${i.id}`}
      title={`${i.tag}, ${i.kind_name} ${i.size}: ${i.stopped ?? mark(i.mark)}${i.next && !i.stopped ? `, ${i.next}` : ''}`}
      draggable={false}
      aria-current={here || undefined}
      className={`flex touch-manipulation flex-col items-center px-0.5 pt-1 pb-0.5 ${inView ? '' : 'opacity-25'} ${
        selected ? 'bg-primary/15' : here ? 'bg-base-200' : ''
      }`}
    >
      <span className="flex items-end">
        <Drawing name={i.drawing} label="" small className="h-6 w-6" />
        <Mark name={i.mark} className="h-6 w-[18px]" />
      </span>
      <b className="text-[11px] tracking-wide whitespace-nowrap">{i.tag}</b>
    </Link>
  )
}

/** A tile that stays where it is. */
export const StillTile = memo(Face)

/** A tile that can be dragged to another slot. */
export const Tile = memo(function Tile({ movable, ...face }: Props & { movable: boolean }) {
  const { listeners, setNodeRef, transform } = useDraggable({ id: face.instrument.id, disabled: !movable })
  return (
    <Face
      {...face}
      {...listeners}
      ref={setNodeRef}
      style={
        transform
          ? { translate: `${String(transform.x)}px ${String(transform.y)}px`, position: 'relative', zIndex: 20 }
          : undefined
      }
    />
  )
})
