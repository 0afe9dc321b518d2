import { NavLink } from 'react-router'

type Props = {
  label: string
  base: string
  pages: readonly (readonly [key: string, name: string, ...rest: unknown[]])[]
}

/** The pages of a view. The first, with an empty key, stands at the address of the view itself. */
export function Pages({ label, base, pages }: Props) {
  return (
    <nav aria-label={label} className="line no-print mt-2 flex flex-wrap gap-x-5">
      {pages.map(([key, name]) => (
        <NavLink
          key={key}
          end
          to={key ? `${base}/${key}` : base}
          className={({ isActive }) =>
            `-mb-px border-b-2 py-1.5 ${isActive ? 'border-primary font-bold' : 'quiet border-transparent'}`
          }
        >
          {name}
        </NavLink>
      ))}
    </nav>
  )
}
