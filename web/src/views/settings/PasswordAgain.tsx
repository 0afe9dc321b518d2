import type { ComponentProps } from 'react'
import { Field } from '../../shell/Field'

/** One's own password once more, before something that lets people in is made or ended. */
export function PasswordAgain({ error, ...field }: { error: string | undefined } & ComponentProps<'input'>) {
  return (
    <Field label="Your password" error={error}>
      <input className="input input-sm w-full" type="password" autoComplete="current-password" required {...field} />
    </Field>
  )
}
