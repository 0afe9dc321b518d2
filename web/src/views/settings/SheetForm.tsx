import { api, take, type Schemas } from '../../api/client'
import { useSaving } from './saving'

type Props = { product: Schemas['OwnedProduct'] }

/** Keeps a safety sheet with its product, so that it can be read at the bench. */
export function SheetForm({ product }: Props) {
  const { save, busy, error, wrong } = useSaving((pdf: File) =>
    take(
      api.PUT('/api/v1/products/{id}/safety-sheet', {
        params: { path: { id: product.id }, query: { version: product.sheet_version } },
        headers: { 'Content-Type': 'application/octet-stream' },
        body: pdf as unknown as string,
        bodySerializer: (body) => body,
      }),
    ),
  )
  return (
    <label className="mb-3 block bg-base-200 px-4 pb-4 text-sm">
      {product.sheet_on_file ? 'Another safety sheet' : 'Its safety sheet'}, a PDF of up to 5 MB
      <input
        type="file"
        accept="application/pdf"
        className="file-input file-input-sm mt-1 block w-full max-w-md"
        disabled={busy}
        onChange={(e) => {
          const pdf = e.currentTarget.files?.[0]
          if (pdf) save(pdf).catch(() => undefined)
        }}
      />
      {error && (
        <span role="alert" className="block text-error">
          {wrong.sheet ? `The file ${wrong.sheet}.` : error}
        </span>
      )}
    </label>
  )
}
