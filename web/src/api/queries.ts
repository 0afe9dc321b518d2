// What the screens read. Server state lives in this cache only.
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { api, queryClient, take } from './client'

export const useSession = () =>
  useQuery({
    queryKey: ['session'],
    queryFn: () => take(api.GET('/api/v1/session')),
    staleTime: Infinity,
    refetchOnWindowFocus: false,
  })

export const useHeader = () => useQuery({ queryKey: ['header'], queryFn: () => take(api.GET('/api/v1/header')) })

export const useToday = (minutes: number, helpers: number) =>
  useQuery({
    queryKey: ['today', minutes, helpers],
    queryFn: () => take(api.GET('/api/v1/today', { params: { query: { minutes, helpers } } })),
    placeholderData: keepPreviousData,
  })

export const useDue = (wanted: boolean) =>
  useQuery({ queryKey: ['due'], queryFn: () => take(api.GET('/api/v1/due')), enabled: wanted })

export const useInstruments = () =>
  useQuery({ queryKey: ['instruments'], queryFn: () => take(api.GET('/api/v1/instruments')) })

export const useInstrumentFile = (id: string) =>
  useQuery({
    queryKey: ['instrument', id],
    queryFn: () => take(api.GET('/api/v1/instruments/{id}', { params: { path: { id } } })),
  })

export const useSettings = () => useQuery({ queryKey: ['settings'], queryFn: () => take(api.GET('/api/v1/settings')) })

/** After a write everything but the session may look different. */
export const refresh = () => queryClient.invalidateQueries({ predicate: (q) => q.queryKey[0] !== 'session' })

export function useMay(right: 'finish care' | 'change instruments' | 'change settings') {
  return useSession().data?.rights.includes(right) ?? false
}
