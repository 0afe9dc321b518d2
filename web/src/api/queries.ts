// What the screens read. Server state lives in this cache only.
import { keepPreviousData, queryOptions, useQuery } from '@tanstack/react-query'
import { writeAs } from '../words'
import { api, queryClient, take, type Answer, type Schemas } from './client'
import { keptOfBox } from './timeBox'

/** A question without parameters, kept under a key. */
const asked =
  <Body>(key: string, ask: () => Promise<Answer<Body>>) =>
  () =>
    useQuery({ queryKey: [key], queryFn: () => take(ask()) })

const session = queryOptions({
  queryKey: ['session'],
  queryFn: () => take(api.GET('/api/v1/session')),
  staleTime: Infinity,
  refetchOnWindowFocus: false,
})

const header = queryOptions({
  queryKey: ['header'],
  queryFn: async () => {
    const header = await take(api.GET('/api/v1/header'))
    writeAs(header.locale, header.currency, header.decimals, header.time_zone)
    return header
  },
})

/** Asks what every page needs while the page is still being made. */
export const askAhead = () => {
  void queryClient.prefetchQuery(session)
  void queryClient.prefetchQuery(header)
}

let todayAhead: Promise<Schemas['Today'] | undefined> | undefined

/** Asks for Today before it is known who asks and what its box begins with; the page takes the answer if it is the right one. */
export const askTodayAhead = () => {
  const query = { minutes: keptOfBox('minutes'), helpers: keptOfBox('helpers') }
  todayAhead = take(api.GET('/api/v1/today', { params: { query } })).catch(() => undefined)
}

export const useSession = () => useQuery(session)

export const useHeader = () => useQuery(header)

export const useToday = (minutes: number, helpers: number) =>
  useQuery({
    queryKey: ['today', minutes, helpers],
    queryFn: async () => {
      const early = await todayAhead
      todayAhead = undefined
      if (early?.box.minutes === minutes && early.box.helpers === helpers) return early
      return take(api.GET('/api/v1/today', { params: { query: { minutes, helpers } } }))
    },
    placeholderData: keepPreviousData,
  })

export const useDue = (wanted: boolean, most: number) =>
  useQuery({
    queryKey: ['due', most],
    queryFn: () => take(api.GET('/api/v1/due', { params: { query: { most } } })),
    placeholderData: keepPreviousData,
    enabled: wanted,
  })

export const useRounds = asked('rounds', () => api.GET('/api/v1/rounds'))

export const useFirstSteps = asked('first-steps', () => api.GET('/api/v1/first-steps'))

export const useAddable = asked('kinds', () => api.GET('/api/v1/kinds'))

export const useWalls = asked('walls', () => api.GET('/api/v1/room'))

export const useShelves = asked('shelves', () => api.GET('/api/v1/shelves'))

export const usePractices = asked('practices', () => api.GET('/api/v1/practices'))

export const useProfileYears = asked('profile-years', () => api.GET('/api/v1/practices/profile-years'))

export const useKitTiers = asked('kit-tiers', () => api.GET('/api/v1/kits'))

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

export const usePlayers = asked('players', () => api.GET('/api/v1/players'))

export const useMentions = (player: string) =>
  useQuery({
    queryKey: ['mentions', player],
    queryFn: () => take(api.GET('/api/v1/players/{id}/mentions', { params: { path: { id: player } } })),
  })

export const useNewPlayer = (wanted: boolean) =>
  useQuery({ queryKey: ['new-player'], queryFn: () => take(api.GET('/api/v1/players/new')), enabled: wanted })

export const useHandOverSheet = (instrument: string, player: string, checks: Schemas['Checks']) =>
  useQuery({
    queryKey: ['hand-over', instrument, player, checks],
    queryFn: () =>
      take(
        api.GET('/api/v1/instruments/{id}/hand-over', {
          params: { path: { id: instrument }, query: { player_id: player, ...checks } },
        }),
      ),
    placeholderData: keepPreviousData,
    enabled: instrument !== '' && player !== '',
  })

export const useReturnSheet = (id: string) =>
  useQuery({
    queryKey: ['return', id],
    queryFn: () => take(api.GET('/api/v1/instruments/{id}/return', { params: { path: { id } } })),
    refetchOnWindowFocus: false,
    retry: false,
  })

export const useNotices = asked('notices', () => api.GET('/api/v1/notices'))

export const useLetters = asked('letters', () => api.GET('/api/v1/letters'))

export const useRentals = asked('rentals', () => api.GET('/api/v1/rentals'))

export const useRefillRound = asked('refill', () => api.GET('/api/v1/kits/refill'))

export const useSupplies = (horizon_weeks: number, service_level: number) =>
  useQuery({
    queryKey: ['supplies', horizon_weeks, service_level],
    queryFn: () => take(api.GET('/api/v1/supplies', { params: { query: { horizon_weeks, service_level } } })),
    placeholderData: keepPreviousData,
  })

export const useOrders = asked('orders', () => api.GET('/api/v1/supply-orders'))

export const useBench = asked('bench', () => api.GET('/api/v1/bench'))

export const useBenchPlan = (body: Schemas['Benching']) =>
  useQuery({
    queryKey: ['bench-plan', body],
    queryFn: () => take(api.POST('/api/v1/bench/plan', { body })),
    placeholderData: keepPreviousData,
    enabled: body.instruments.length > 0,
    retry: false,
  })

/** Several people tick at one bench, so it is read again every few seconds while the work goes on. */
export const useBenchRun = (id: string) =>
  useQuery({
    queryKey: ['bench-run', id],
    queryFn: () => take(api.GET('/api/v1/bench/runs/{id}', { params: { path: { id } } })),
    refetchInterval: (query) => (query.state.data?.ended_at ? false : 3000),
  })

export const useBenchRecords = (instrument: string) =>
  useQuery({
    queryKey: ['bench-records', instrument],
    queryFn: () => take(api.GET('/api/v1/bench/records', { params: { query: instrument ? { instrument } : {} } })),
  })

export const useProducts = asked('products', () => api.GET('/api/v1/products'))

export const useSizeOrder = asked('size-order', () => api.GET('/api/v1/size-order'))

export const useProposal = (wish: Schemas['Wish']) =>
  useQuery({
    queryKey: ['proposal', wish],
    queryFn: () => take(api.POST('/api/v1/proposals', { body: wish })),
    placeholderData: keepPreviousData,
  })

export const useCatalog = () =>
  useQuery({ queryKey: ['catalog'], queryFn: () => take(api.GET('/api/v1/catalog')), staleTime: Infinity })

export const useBefore = (body: Schemas['Preparing']) =>
  useQuery({
    queryKey: ['before', body],
    queryFn: () => take(api.POST('/api/v1/strings-reeds/before', { body })),
    placeholderData: keepPreviousData,
    retry: false,
  })

export const useStrings = asked('strings', () => api.GET('/api/v1/strings-reeds/strings'))

export const useBows = asked('bows', () => api.GET('/api/v1/strings-reeds/bows'))

export const useReeds = asked('reeds', () => api.GET('/api/v1/strings-reeds/reeds'))

export const useLasting = asked('lasting', () => api.GET('/api/v1/strings-reeds/lasting'))

export const useGuide = (id: string, part: string) =>
  useQuery({
    queryKey: ['guide', id, part],
    queryFn: () => take(api.GET('/api/v1/instruments/{id}/renewal', { params: { path: { id }, query: { part } } })),
    refetchOnWindowFocus: false,
  })

export const useFeed = asked('feed', () => api.GET('/api/v1/calendar-feed'))

export const useShop = asked('shop', () => api.GET('/api/v1/shop'))

export const useShopJob = (id: string) =>
  useQuery({
    queryKey: ['shop-job', id],
    queryFn: () => take(api.GET('/api/v1/shop/jobs/{id}', { params: { path: { id } } })),
  })

/**
 * A plan of the season: what is known of it at once, and again until it is worked out. It may be asked for before it is shown, so that what
 * cannot be is refused and the present one stays.
 */
export const seasonQuery = (body: Schemas['Planning']) =>
  queryOptions({
    queryKey: ['season', body],
    queryFn: () => take(api.POST('/api/v1/season/plan', { body: { ...body, at_once: true } })),
    refetchInterval: (query) => (query.state.data?.improving ? 1000 : false),
    retry: false,
  })

export const useSeason = (body: Schemas['Planning']) =>
  useQuery({ ...seasonQuery(body), placeholderData: keepPreviousData })

/** A plan that is worked out to its end, to be compared with another. */
export const useWholeSeason = (body: Schemas['Planning']) =>
  useQuery({
    queryKey: ['whole-season', body],
    queryFn: () => take(api.POST('/api/v1/season/plan', { body })),
    placeholderData: keepPreviousData,
    retry: false,
  })

export const useReadiness = asked('readiness', () => api.GET('/api/v1/season/readiness'))

export const useStocktake = (id: string) =>
  useQuery({
    queryKey: ['stocktake', id],
    queryFn: () => take(api.GET('/api/v1/stocktakes/{id}', { params: { path: { id } } })),
  })

const instruments = queryOptions({ queryKey: ['instruments'], queryFn: () => take(api.GET('/api/v1/instruments')) })

export const useInstruments = (wanted = true) => useQuery({ ...instruments, enabled: wanted })

/** The instruments, asked for at once if nobody has yet. */
export const fetchInstruments = () => queryClient.ensureQueryData(instruments)

export const useInstrumentFile = (id: string) =>
  useQuery({
    queryKey: ['instrument', id],
    queryFn: () => take(api.GET('/api/v1/instruments/{id}', { params: { path: { id } } })),
  })

export const useSettings = asked('settings', () => api.GET('/api/v1/settings'))

/** After a write everything but the session may look different. */
export const refresh = () => queryClient.invalidateQueries({ predicate: (q) => q.queryKey[0] !== 'session' })

export function useMay(right: Schemas['Session']['rights'][number]) {
  return useSession().data?.rights.includes(right) ?? false
}
