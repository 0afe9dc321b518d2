import { useState } from 'react'
import { useForm } from 'react-hook-form'
import type { Schemas } from '../../api/client'
import { useInstruments } from '../../api/queries'
import { takesTags, useTakeScans } from '../../shell/keys'
import { reasonWords } from './words'

type Reason = Schemas['OnBench']['reason']

/** Brings any other instrument to the bench: one whose player was ill, say, or one that is washed before a concert. */
export function AddToBatch({ onAdd }: { onAdd: (instrument: Schemas['Listed'], reason: Reason) => void }) {
  const { data: instruments } = useInstruments()
  const { register, setValue, getValues } = useForm<{ tag: string; reason: Reason }>({
    defaultValues: { tag: '', reason: 'illness' },
  })
  const [wrong, setWrong] = useState('')
  const add = (text: string) => {
    const found = instruments?.find((i) => i.tag === text.trim().toUpperCase())
    setWrong(found ? '' : `“${text}” is no tag here.`)
    if (!found) return false
    onAdd(found, getValues('reason'))
    setValue('tag', '')
    return true
  }
  useTakeScans(add)
  return (
    <form
      aria-label="Another instrument"
      className="mt-4"
      onSubmit={(e) => {
        e.preventDefault() // at once: a scanner types on
        const tag = getValues('tag')
        if (tag.trim()) add(tag)
      }}
    >
      <h2>Another one</h2>
      <p className="quiet text-sm">Scan its tag or type it.</p>
      <div className="mt-1 flex gap-2">
        <input
          className="input input-sm w-24"
          aria-label="Tag to add"
          placeholder="Tag"
          {...takesTags}
          {...register('tag')}
        />
        <select className="select select-sm w-32" aria-label="Why it comes" {...register('reason')}>
          {Object.entries(reasonWords).map(([key, words]) => (
            <option key={key} value={key}>
              {words}
            </option>
          ))}
        </select>
        <button className="btn btn-sm">Add</button>
      </div>
      {wrong && (
        <p role="alert" className="text-sm text-error">
          {wrong}
        </p>
      )}
    </form>
  )
}
