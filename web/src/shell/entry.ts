import type { BaseSyntheticEvent } from 'react'
import { useForm, type FieldValues, type UseFormProps } from 'react-hook-form'

/**
 * What a person types into a form and sends as one. `submit` makes the handler of the form; what is wrong with what was sent stands in
 * `wrong` of the write that sent it, by field.
 */
export function useEntry<Typed extends FieldValues>(props?: UseFormProps<Typed>) {
  const form = useForm<Typed>(props)
  const submit = (send: (typed: Typed) => unknown) => (e: BaseSyntheticEvent) => {
    void form.handleSubmit((typed) => {
      send(typed)
    })(e)
  }
  return { ...form, submit }
}
