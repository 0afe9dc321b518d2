import type { Schemas } from '../../api/client'

type Listed = Schemas['Listed']

/** How the instruments are shown: which fit, which are selected, where the cursor stands. */
export type Shown = {
  inView: (i: Listed) => boolean
  selected: ReadonlySet<string>
  here: string | undefined
  movable: boolean
  toggle: (id: string) => void
  /** All that the filter lets through. */
  selectAll: () => void
  setOrder: (order: Listed[]) => void
}
