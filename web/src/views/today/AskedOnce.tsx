import { Link } from 'react-router'
import type { Schemas } from '../../api/client'
import { inText } from '../../words'

/** Defaults that have changed since the school began. It keeps what it had until somebody says what is to hold. */
export function AskedOnce({ list }: { list: Schemas['Asked'][] }) {
  if (list.length === 0) return null
  return (
    <section aria-label="Asked once" className="mb-4 border-l-3 border-warning pl-3 text-sm">
      <p>
        {list
          .map((a) => `${inText(a.title)} (${a.usual})`)
          .join(' and ')
          .replace(/^./, (c) => c.toUpperCase())}{' '}
        {list.length === 1 ? 'is' : 'are'} what new schools begin with now. This school keeps{' '}
        {list.map((a) => a.keeps).join(' and ')}.{' '}
        <Link to="/settings/practices" className="because">
          look and say what holds
        </Link>
      </p>
    </section>
  )
}
