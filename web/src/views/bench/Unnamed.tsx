import { Link } from 'react-router'
import { useProducts } from '../../api/queries'

/** Products of which nobody has said yet what they are made of. */
export function Unnamed() {
  const { data } = useProducts()
  const names = data?.products.filter((p) => p.ask).map((p) => p.name) ?? []
  if (names.length === 0) return null
  return (
    <p className="mb-3 border-l-3 border-warning pl-3 text-sm">
      {names.join(', ')}: what {names.length === 1 ? 'is it' : 'are they'} made of? Until somebody says so,{' '}
      {names.length === 1 ? 'it goes' : 'they go'} onto the outside of cases only.{' '}
      <Link to="/settings/products" className="because">
        read the label
      </Link>
    </p>
  )
}
