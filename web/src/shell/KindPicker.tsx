import { useState } from 'react'
import { useAddable } from '../api/queries'
import { Field } from './Field'

type Props = { label: string; value: string; onChange: (key: string) => void; error?: string | undefined }

const another = 'another'

/** Which kind something is. One that the catalogue does not know is named, and kept like one that it knows. */
export function KindPicker({ label, value, onChange, error }: Props) {
  const { data: kinds } = useAddable()
  const [own, setOwn] = useState({ asked: false, name: '', like: '' })
  const sections = [...new Set(kinds?.map((k) => k.section))]
  const say = (part: Partial<typeof own>) => {
    const next = { ...own, ...part }
    setOwn(next)
    const name = next.name.trim()
    onChange(name && next.like ? `${next.like}~${name}` : '')
  }
  const options = (mayBeOwn: boolean) =>
    sections.map((section) => (
      <optgroup key={section} label={section}>
        {kinds
          ?.filter((k) => k.section === section && (mayBeOwn || !k.own))
          .map((k) => (
            <option key={k.key} value={k.key}>
              {k.name}
            </option>
          ))}
      </optgroup>
    ))
  return (
    <>
      <Field label={label} error={own.asked ? undefined : error}>
        <select
          className="select w-full"
          value={own.asked ? another : value}
          onChange={(e) => {
            const key = e.currentTarget.value
            setOwn({ ...own, asked: key === another })
            onChange(key === another ? '' : key)
          }}
        >
          <option value="">Choose…</option>
          {options(true)}
          <option value={another}>Another kind…</option>
        </select>
      </Field>
      {own.asked && (
        <>
          <Field label="What you call it" error={error}>
            <input
              className="input w-full"
              maxLength={40}
              value={own.name}
              onChange={(e) => say({ name: e.currentTarget.value })}
            />
          </Field>
          <Field label="It is kept like a">
            <select className="select w-full" value={own.like} onChange={(e) => say({ like: e.currentTarget.value })}>
              <option value="">Choose…</option>
              {options(false)}
            </select>
          </Field>
        </>
      )}
    </>
  )
}
