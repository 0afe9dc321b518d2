import type { ReactNode } from 'react'
import type { Schemas } from '../../api/client'

type Props = {
  groups: Schemas['Ingredient'][]
  chosen: string[]
  error: string | undefined
  children: (key: string) => ReactNode
}

/** What a product works by, with what follows from it: where it may go, whether it is rinsed off, and what it never meets. */
export function MadeOf({ groups, chosen, error, children }: Props) {
  const picked = groups.filter((g) => chosen.includes(g.key))
  const clash = picked.flatMap((g) => g.clash).find((c) => chosen.includes(c.with))
  return (
    <fieldset className="col-span-full">
      <legend className="text-sm">What it is made of, as the label has it</legend>
      <div className="grid gap-1 sm:grid-cols-2">
        {groups.map((g) => (
          <label key={g.key} className="flex items-start gap-2">
            {children(g.key)}
            {g.name}
          </label>
        ))}
      </div>
      {picked.map((g) => (
        <p key={g.key} className="quiet mt-1 text-sm">
          {g.name.charAt(0).toUpperCase() + g.name.slice(1)}{' '}
          {g.bears.length > 0 ? `may touch ${g.bears.join(', ')}. ` : 'goes where its own label and each step say. '}
          {g.rinsed
            ? 'Its time over, it is rinsed off with drinking water.'
            : 'Its time over, it dries; nothing is rinsed.'}
        </p>
      ))}
      {picked.length > 1 && (
        <p className="quiet mt-1 text-sm">
          It goes only where all of them may go, and is rinsed off if one of them asks for it.
        </p>
      )}
      {(clash ?? error) && (
        <span className="text-sm text-error">{clash ? `Cannot be in one bottle: ${clash.says}.` : error}</span>
      )}
    </fieldset>
  )
}
