import { Link } from 'react-router'

/** What an address that leads nowhere shows. */
export function NotThere({ back = '/', name = 'Today' }: { back?: string; name?: string }) {
  return (
    <p role="alert" className="mt-4">
      There is nothing at this address.{' '}
      <Link className="link" to={back}>
        To {name}
      </Link>
    </p>
  )
}
