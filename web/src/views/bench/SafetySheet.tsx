import type { Schemas } from '../../api/client'

type Props = { of: Pick<Schemas['Handling'], 'product_id' | 'safety_sheet' | 'sheet_on_file'> }

/** Where the safety sheet of a product is read: here, behind a link, or in a folder. */
export function SafetySheet({ of }: Props) {
  if (of.sheet_on_file)
    return (
      <a className="link" href={`/api/v1/products/${of.product_id}/safety-sheet`} target="_blank" rel="noreferrer">
        Safety sheet
      </a>
    )
  if (/^https?:\/\//.test(of.safety_sheet))
    return (
      <a className="link" href={of.safety_sheet} target="_blank" rel="noreferrer">
        Safety sheet
      </a>
    )
  return of.safety_sheet ? <>Safety sheet: {of.safety_sheet}.</> : null
}
