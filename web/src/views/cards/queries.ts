import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { api, take } from '../../api/client'

export type Phase = 'set-up' | 'pack-up'

export const useDeck = () => useQuery({ queryKey: ['cards'], queryFn: () => take(api.GET('/api/v1/cards')) })

export const useCard = (id: string | undefined, language: string) =>
  useQuery({
    queryKey: ['card', id, language],
    queryFn: () =>
      take(api.GET('/api/v1/instruments/{id}/card', { params: { path: { id: id ?? '' }, query: { language } } })),
    enabled: id !== undefined,
    placeholderData: keepPreviousData,
  })

export const useReports = () => useQuery({ queryKey: ['reports'], queryFn: () => take(api.GET('/api/v1/reports')) })

/** The board is kept for a day once it was opened, so that it runs without a network. */
export const useBoard = (ensemble: string, phase: Phase, language: string) =>
  useQuery({
    queryKey: ['board', ensemble, phase, language],
    queryFn: () => take(api.GET('/api/v1/pack-up/board', { params: { query: { ensemble, phase, language } } })),
    staleTime: Infinity,
    gcTime: 24 * 3600e3,
    refetchOnWindowFocus: false,
    refetchOnReconnect: false,
  })

/** What sections said by their cards, asked every few seconds. */
export const useProgress = (ensemble: string) =>
  useQuery({
    queryKey: ['progress', ensemble],
    queryFn: () => take(api.GET('/api/v1/pack-up', { params: { query: { ensemble } } })),
    refetchInterval: 3000,
    retry: false,
  })

export const useClass = (ensemble: string, kind: string, last: string, language: string) =>
  useQuery({
    queryKey: ['class', ensemble, kind, last, language],
    queryFn: () => take(api.GET('/api/v1/drill', { params: { query: { ensemble, kind, last, language } } })),
    enabled: ensemble !== '',
    staleTime: Infinity,
    refetchOnWindowFocus: false,
    placeholderData: keepPreviousData,
  })

export const useHabits = () => useQuery({ queryKey: ['habits'], queryFn: () => take(api.GET('/api/v1/habits')) })

export const useLesson = (kind: string) =>
  useQuery({
    queryKey: ['lesson', kind],
    queryFn: () => take(api.GET('/api/v1/lessons/{kind}', { params: { path: { kind } } })),
    enabled: kind !== '',
    placeholderData: keepPreviousData,
  })
