// What every screen says alike, as the API has it: marks, grades, actions, and what forms begin with.
import { createContext, useContext } from 'react'
import type { Schemas } from './client'

const said = (list: { key: string; words: string }[]) => (key: string) => list.find((w) => w.key === key)?.words ?? key

/** Words by their keys. */
export function wordsOf(words: Schemas['Words']) {
  return {
    ...words,
    mark: said(words.marks),
    grade: said(words.grades),
    gradeShort: (key: string) => words.grades.find((w) => w.key === key)?.short ?? key,
    action: said(words.actions),
    /** Whether what a finding asks for is done by a repair shop. */
    toShop: (key: string) => words.actions.some((a) => a.key === key && a.to_shop),
  }
}

/** The frame provides them, and shows no view before they are there. */
export const WordsContext = createContext(
  wordsOf({
    ...{ marks: [], grades: [], actions: [], label_sheets: [], card_code: '' },
    defaults: {
      box_minutes: 0,
      play_factor: 0,
      vacation_share: 0,
      concert_minutes: 0,
      rehearsal_minutes: 0,
      string_minutes: 0,
    },
  }),
)

export const useWords = () => useContext(WordsContext)
