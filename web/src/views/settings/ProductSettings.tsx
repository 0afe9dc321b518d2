import { useState } from 'react'
import { useWatch } from 'react-hook-form'
import { api, take, type Schemas } from '../../api/client'
import { useProducts } from '../../api/queries'
import { Caution } from '../../shell/Caution'
import { useEntry } from '../../shell/entry'
import { Field } from '../../shell/Field'
import { FormEnd } from '../../shell/FormEnd'
import { count } from '../../words'
import { SafetySheet } from '../bench/SafetySheet'
import { MadeOf } from './MadeOf'
import { useSaving } from './saving'
import { SheetForm } from './SheetForm'
import { VesselForm } from './VesselForm'
import { newID } from '../../api/id'

type Product = Schemas['Product']

/** What the school disinfects with, as the labels have it. */
export function ProductSettings({ may }: { may: boolean }) {
  const { data, error } = useProducts()
  const [open, setOpen] = useState<string>()
  // A form that was saved closes itself a moment later, and not another that was opened meanwhile.
  const close = (one: string) => setOpen((now) => (now === one ? undefined : now))
  if (error && !data) return <p role="alert">{error.message}</p>
  if (!data) return <p className="quiet">Reading labels…</p>
  const fresh = (): Product => ({
    ...{ id: newID(), name: '', made_of: [], contact_minutes: 0, registered_use: '' },
    ...{ surfaces: [], hazards: '', safety_sheet: '', supply: data.supplies[0]?.key ?? '', retired: false, version: 0 },
  })
  return (
    <div className="max-w-4xl">
      <Caution>
        Copy what stands on the label and nothing else. The label, its safety sheet and your school’s nurse or safety
        officer decide over this page. Never mix products. A sanitiser is no disinfectant: it leaves part of what there
        was.
      </Caution>
      <ul>
        {data.products.map((p) => (
          <li key={`${p.id}/${String(p.version)}`} className="line py-2">
            <div className="flex flex-wrap items-baseline gap-x-3">
              <b>{p.name}</b>
              <span className="quiet">
                {p.made_of_names.join(' and ')}
                {p.strength_pct !== undefined && `, ${String(p.strength_pct)} %`}
              </span>
              <span>wet for {count(p.contact_minutes, 'minute')}</span>
              {p.warning ? (
                <span className="text-error">{p.warning}</span>
              ) : (
                <span className="quiet text-sm">
                  {count(Math.round(p.in_stock * 10) / 10, p.unit)}
                  {p.lot && `, lot ${p.lot}`}
                </span>
              )}
              {may && (
                <button
                  className="because ml-auto"
                  aria-label={`Change ${p.name}`}
                  onClick={() => setOpen(open === p.id ? undefined : p.id)}
                >
                  change
                </button>
              )}
            </div>
            <p className="quiet text-sm">
              On: {p.surface_names.join(' · ')}. {p.hazards && `${p.hazards}. `}
              <SafetySheet of={{ ...p, product_id: p.id }} />
            </p>
            {p.ask && (
              <p className="text-sm text-warning">
                What is it made of? Read the label and say so once. Until then it goes onto the outside of cases only.
              </p>
            )}
            {open === p.id && <ProductForm data={data} product={p} onClose={() => close(p.id)} />}
            {open === p.id && <SheetForm product={p} />}
          </li>
        ))}
      </ul>
      {may &&
        (open === 'new' ? (
          <ProductForm data={data} product={fresh()} onClose={() => close('new')} />
        ) : (
          <button className="btn btn-sm mt-3" onClick={() => setOpen('new')}>
            Add a product
          </button>
        ))}
      <VesselForm vessel={data.vessel} version={data.vessel_version} may={may} />
    </div>
  )
}

/** What is wrong with a field or with any of its entries. */
const wrongIn = (wrong: Record<string, string>, field: string) =>
  Object.entries(wrong).find(([path]) => path === field || path.startsWith(`${field}[`))?.[1]

type FormProps = { data: Schemas['Products']; product: Product; onClose: () => void }

function ProductForm({ data, product, onClose }: FormProps) {
  const { register, submit, control } = useEntry({
    defaultValues: { ...product, strength: product.strength_pct === undefined ? '' : String(product.strength_pct) },
  })
  const madeOf = useWatch({ control, name: 'made_of' })
  const { save, busy, error, wrong } = useSaving((body: Product) => take(api.PUT('/api/v1/products', { body })))
  return (
    <form
      aria-label={product.name || 'New product'}
      className="my-2 grid gap-3 bg-base-200 p-4 sm:grid-cols-2"
      onSubmit={submit((f) => {
        const body: Product = {
          ...{ id: product.id, version: product.version, name: f.name, made_of: f.made_of, supply: f.supply },
          ...{ contact_minutes: f.contact_minutes || 0, registered_use: f.registered_use, surfaces: f.surfaces },
          ...{ hazards: f.hazards, safety_sheet: f.safety_sheet, retired: f.retired },
          ...(f.strength.trim() ? { strength_pct: Number(f.strength.replace(',', '.')) } : {}),
        }
        save(body).then(onClose, () => undefined)
      })}
    >
      <Field label="Name" error={wrong.name}>
        <input className="input input-sm w-full" {...register('name')} />
      </Field>
      <Field label="Contact time on the label, in minutes" error={wrong.contact_minutes}>
        <input
          className="input input-sm w-full"
          type="number"
          min={0}
          {...register('contact_minutes', { valueAsNumber: true })}
        />
      </Field>
      <MadeOf groups={data.groups} chosen={madeOf} error={wrongIn(wrong, 'made_of')}>
        {(key) => (
          <input type="checkbox" className="checkbox checkbox-sm mt-0.5" value={key} {...register('made_of')} />
        )}
      </MadeOf>
      <fieldset className="col-span-full">
        <legend className="text-sm">Surfaces that the label names</legend>
        <div className="grid gap-1 sm:grid-cols-2">
          {data.surfaces.map((s) => (
            <label key={s.key} className="flex items-center gap-2">
              <input type="checkbox" className="checkbox checkbox-sm" value={s.key} {...register('surfaces')} />
              {s.name}
            </label>
          ))}
        </div>
        {wrong.surfaces && <span className="text-sm text-error">{wrong.surfaces}</span>}
      </fieldset>
      <Field label="Strength in per cent, if it says so" error={wrong.strength_pct}>
        <input className="input input-sm w-full" inputMode="decimal" {...register('strength')} />
      </Field>
      <Field label="Registered against" error={wrong.registered_use}>
        <input className="input input-sm w-full" {...register('registered_use')} />
      </Field>
      <Field label="Hazards on the label" error={wrong.hazards}>
        <input className="input input-sm w-full" {...register('hazards')} />
      </Field>
      <Field label="Safety sheet: a link, or where it lies" error={wrong.safety_sheet}>
        <input className="input input-sm w-full" {...register('safety_sheet')} />
      </Field>
      <Field label="Its stock is counted as" error={wrong.supply}>
        <select className="select select-sm w-full" {...register('supply')}>
          {data.supplies.map((s) => (
            <option key={s.key} value={s.key}>
              {s.name}
            </option>
          ))}
        </select>
      </Field>
      <label className="col-span-full flex items-center gap-2">
        <input type="checkbox" className="checkbox checkbox-sm" {...register('retired')} />
        It is not used any more
      </label>
      <FormEnd error={error ? new Error(error) : null} busy={busy} name="Save" onClose={onClose} />
    </form>
  )
}
