import type { Schemas } from '../../api/client'

/** The roles, from most to least, and what each is for. */
export const roleNames: [Schemas['Colleague']['role'], string][] = [
  ['director', 'Director: everything'],
  ['assistant', 'Assistant: all but settings'],
  ['helper', 'Helper: ticks care off'],
  ['viewer', 'Viewer: looks only'],
]
