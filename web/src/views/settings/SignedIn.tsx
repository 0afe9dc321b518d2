import { useQuery } from '@tanstack/react-query'
import { api, take } from '../../api/client'
import { refresh } from '../../api/queries'
import { useWrite } from '../../api/write'
import { moment } from '../../words'

/** Where one is signed in, and signing out there. */
export function SignedIn() {
  const { data: sessions } = useQuery({ queryKey: ['sessions'], queryFn: () => take(api.GET('/api/v1/sessions')) })
  const end = useWrite({
    send: (id: string) => take(api.DELETE('/api/v1/sessions/{id}', { params: { path: { id } } })),
    onSuccess: refresh,
  })
  return (
    <section aria-label="Where you are signed in" className="max-w-3xl">
      <h2>Where you are signed in</h2>
      <ul className="mt-1">
        {sessions?.map((s) => (
          <li key={s.id} className="line flex flex-wrap items-center gap-x-4 py-1.5">
            <b>{deviceName(s.device)}</b>
            <span className="quiet text-sm">
              since {moment(s.began)}, until {moment(s.until)}
            </span>
            {s.here ? (
              <span className="quiet ml-auto text-sm">this one</span>
            ) : (
              <button
                className="because ml-auto"
                aria-label={`sign out there: ${deviceName(s.device)}, since ${moment(s.began)}`}
                disabled={end.isPending}
                onClick={() => end.mutate(s.id)}
              >
                sign out there
              </button>
            )}
          </li>
        ))}
      </ul>
      {end.error && (
        <p role="alert" className="text-sm text-error">
          {end.error.message}
        </p>
      )}
    </section>
  )
}

/** What a browser calls itself, in words: the kind of machine. */
function deviceName(agent: string) {
  const kinds: [RegExp, string][] = [
    [/iPad|Tablet|tablet/, 'A tablet'],
    [/iPhone|Android|Mobile/, 'A phone'],
    [/Windows|Macintosh|Linux|X11|CrOS/, 'A computer'],
  ]
  return kinds.find(([word]) => word.test(agent))?.[1] ?? 'Something else'
}
