import { useQuery } from '@tanstack/react-query'
import { api, take } from '../../api/client'

/** Keys for scripts: one's own, or for a director all of the school. */
export const useKeys = () => useQuery({ queryKey: ['keys'], queryFn: () => take(api.GET('/api/v1/keys')) })

/** One's own passkeys. */
export const usePasskeys = () =>
  useQuery({ queryKey: ['passkeys'], queryFn: () => take(api.GET('/api/v1/session/passkeys')) })
