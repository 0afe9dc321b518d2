// What the screens read. Server state lives in this cache only.
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { api, queryClient, take, type Schemas } from './client'

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

export const useRounds = () => useQuery({ queryKey: ['rounds'], queryFn: () => take(api.GET('/api/v1/rounds')) })

export const useWalls = () => useQuery({ queryKey: ['walls'], queryFn: () => take(api.GET('/api/v1/room')) })

export const useShelves = () => useQuery({ queryKey: ['shelves'], queryFn: () => take(api.GET('/api/v1/shelves')) })

export const usePractices = () =>
  useQuery({ queryKey: ['practices'], queryFn: () => take(api.GET('/api/v1/practices')) })

export const useSheet = (id: string) =>
  useQuery({
    queryKey: ['sheet', id],
    queryFn: () => take(api.GET('/api/v1/instruments/{id}/check', { params: { path: { id } } })),
    refetchOnWindowFocus: false,
  })

export const useFindable = (id: string, wanted: boolean) =>
  useQuery({
    queryKey: ['findable', id],
    queryFn: () => take(api.GET('/api/v1/instruments/{id}/findable', { params: { path: { id } } })),
    enabled: wanted,
  })

export const useSymptoms = (id: string) =>
  useQuery({
    queryKey: ['symptoms', id],
    queryFn: () => take(api.GET('/api/v1/instruments/{id}/symptoms', { params: { path: { id } } })),
  })

export const useDiagnosis = (id: string, symptom: string, answers: string) =>
  useQuery({
    queryKey: ['diagnosis', id, symptom, answers],
    queryFn: () =>
      take(api.GET('/api/v1/instruments/{id}/diagnosis', { params: { path: { id }, query: { symptom, answers } } })),
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    enabled: symptom !== '',
  })

export const usePlayers = () => useQuery({ queryKey: ['players'], queryFn: () => take(api.GET('/api/v1/players')) })

export const useSizeOrder = () =>
  useQuery({ queryKey: ['size-order'], queryFn: () => take(api.GET('/api/v1/size-order')) })

export const useProposal = (wish: Schemas['Wish']) =>
  useQuery({
    queryKey: ['proposal', wish],
    queryFn: () => take(api.POST('/api/v1/proposals', { body: wish })),
    placeholderData: keepPreviousData,
  })

export const useCatalog = () =>
  useQuery({ queryKey: ['catalog'], queryFn: () => take(api.GET('/api/v1/catalog')), staleTime: Infinity })

export const useStocktake = (id: string) =>
  useQuery({
    queryKey: ['stocktake', id],
    queryFn: () => take(api.GET('/api/v1/stocktakes/{id}', { params: { path: { id } } })),
  })

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

export function useMay(right: Schemas['Session']['rights'][number]) {
  return useSession().data?.rights.includes(right) ?? false
}
