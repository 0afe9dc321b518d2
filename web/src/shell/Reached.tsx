import { useQuery } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { api, take } from '../api/client'

/** What is made of the address that stands on paper and in links, or why there is none. */
export function Reached({ children }: { children: (address: string) => ReactNode }) {
  const { data: reach } = useQuery({
    queryKey: ['reach'],
    queryFn: () => take(api.GET('/api/v1/reach')),
    staleTime: Infinity,
  })
  if (!reach) return null
  if (reach.unreachable)
    return (
      <p role="alert" className="text-sm text-error">
        {reach.unreachable}
      </p>
    )
  return children(reach.address)
}
