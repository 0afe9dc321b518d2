import type { ComponentProps } from 'react'
import { Field } from './Field'

/** Where somebody types a password that they choose. */
export function NewPasswordField({ error, ...input }: ComponentProps<'input'> & { error?: string | undefined }) {
  return (
    <Field label="New password, 8 characters or more" error={error}>
      <input className="input w-full" type="password" autoComplete="new-password" required {...input} />
    </Field>
  )
}
