import { useDraggable } from '@dnd-kit/core'
import { Link } from 'react-router'
import type { Schemas } from '../../api/client'
import { Drawing } from '../../drawings/Drawing'
import { Mark, markWords } from '../../marks/Mark'

type Props = {
  instrument: Schemas['Listed']
  /** It fits the filters. */
  inView: boolean
  selected: boolean
  here: boolean
  movable: boolean
}

/** An instrument on its shelf: outline, mark, tag. It can be dragged to another slot. */
export function Tile({ instrument: i, inView, selected, here, movable }: Props) {
  const { attributes, listeners, setNodeRef, transform, isDragging } = useDraggable({ id: i.id, disabled: !movable })
  return (
    <Link
      ref={setNodeRef}
      to={`/instruments/${i.id}`}
      title={`${i.tag}, ${i.kind_name} ${i.size}: ${i.stopped ?? markWords[i.mark]}${i.next && !i.stopped ? `, ${i.next}` : ''}`}
      draggable={false}
      {...listeners}
      {...attributes}
      role={undefined}
      aria-roledescription={undefined}
      aria-current={here || undefined}
      className={`flex touch-manipulation flex-col items-center px-0.5 pt-1 pb-0.5 ${inView ? '' : 'opacity-25'} ${
        selected ? 'bg-primary/15' : here ? 'bg-base-200' : ''
      } ${isDragging ? 'relative z-20 opacity-80' : ''}`}
      style={transform ? { translate: `${String(transform.x)}px ${String(transform.y)}px` } : undefined}
    >
      <span className="flex items-end">
        <Drawing name={i.drawing} label="" small className="h-6 w-6" />
        <Mark name={i.mark} className="h-6 w-[18px]" />
      </span>
      <b className="text-[11px] tracking-wide whitespace-nowrap">{i.tag}</b>
    </Link>
  )
}
