import { createQuery, keepPreviousData, QueryClient, type CreateQueryOptions } from '@tanstack/svelte-query'
import { api, ask, type Schemas } from './client'

// One query a place. After any change everything is read anew: the rows are computed from the facts each time.
export const queries = new QueryClient({
  // Asked even without a signal: the service worker answers with what it kept.
  // An open page asks again each minute, and is answered in a word where nothing changed: somebody else's move, or the next
  // day, are not missed.
  defaultOptions: {
    queries: { staleTime: 15_000, retry: 1, refetchOnWindowFocus: true, refetchInterval: 60_000, networkMode: 'always' },
  },
})

let asked = $state(0) // how often the pages are being asked again

/** Longer than this many ms no form waits: what it saves is held against its version all the same. */
const longest = 4000

/**
 * What a form starts from must be what holds: one that opens while the pages are asked again after a write waits for the
 * answers, and then stays.
 */
export function answered() {
  let ready = $state(!asked)
  $effect(() => {
    if (!asked) ready = true
    const waited = setTimeout(() => (ready = true), longest)
    return () => clearTimeout(waited)
  })
  return {
    get current() {
      return ready
    },
  }
}

export async function refresh() {
  asked++
  try {
    await askAgain()
  } finally {
    asked--
  }
}

async function askAgain() {
  for (const farm of openings.keys()) openings.set(farm, Promise.resolve({})) // what was asked before a write is old
  await queries.cancelQueries({ predicate: (q) => q.state.data === undefined }) // a first answer on its way would be taken for a new one
  await queries.invalidateQueries()
}

// A query tells of its answer only what somebody has read before it came. A place reads when its frame is up, which may
// be later: so every query is read from the start.
function watched<T>(options: () => CreateQueryOptions<T>) {
  const query = createQuery(options)
  $effect.pre(() => {
    void query.data
    void query.error
  })
  return query
}

const at = (farm: string) => ({ params: { path: { farm } } })

export const useMe = () => watched(() => ({ queryKey: ['me'], queryFn: () => ask(api.GET('/api/me')), retry: false }))
export const useHouse = () =>
  watched(() => ({ queryKey: ['house'], queryFn: () => ask(api.GET('/api/house')), staleTime: Infinity }))
export const useSums = () =>
  watched(() => ({ queryKey: ['sums'], queryFn: () => ask(api.GET('/api/sums')), staleTime: Infinity }))
export const useReference = () =>
  watched(() => ({ queryKey: ['reference'], queryFn: () => ask(api.GET('/api/reference')), staleTime: Infinity }))
export const useSwards = (farm: () => string) =>
  watched(() => ({ queryKey: ['swards', farm()], queryFn: () => ask(api.GET('/api/farms/{farm}/swards', at(farm()))) }))
// The first page of a farm needs seven answers: they are asked together, once for a farm while the page is open. Where no
// answer comes soon each is asked by itself, and what was kept for the field is found.
const openings = new Map<string, Promise<Partial<Schemas['Opening']>>>()
const soonMs = 4000
const freshMs = 3000

function opening(farm: string): Promise<Partial<Schemas['Opening']>> {
  const asked = ask(api.GET('/api/farms/{farm}/opening', { ...at(farm), signal: AbortSignal.timeout(soonMs) })).catch(() => ({}))
  // Whatever of it is not shown at once is asked anew when it is.
  void asked.then(() => setTimeout(() => openings.set(farm, Promise.resolve({})), freshMs))
  openings.set(farm, asked)
  return asked
}

async function opened<K extends keyof Schemas['Opening']>(farm: string, key: K, alone: () => Promise<Schemas['Opening'][K]>) {
  const parts = await (openings.get(farm) ?? opening(farm))
  const part = parts[key]
  delete parts[key] // from then on it is asked by itself
  return part ?? alone()
}

export const useToday = (farm: () => string) =>
  watched(() => ({
    queryKey: ['today', farm()],
    queryFn: () => opened(farm(), 'today', () => ask(api.GET('/api/farms/{farm}/today', at(farm())))),
  }))
export const useHandovers = (farm: () => string) =>
  watched(() => ({ queryKey: ['handovers', farm()], queryFn: () => ask(api.GET('/api/farms/{farm}/handovers', at(farm()))) }))
export const useReminders = (farm: () => string) =>
  watched(() => ({ queryKey: ['reminders', farm()], queryFn: () => ask(api.GET('/api/farms/{farm}/reminders', at(farm()))) }))
export const useJobs = (farm: () => string) =>
  watched(() => ({
    queryKey: ['jobs', farm()],
    queryFn: () => opened(farm(), 'jobs', () => ask(api.GET('/api/farms/{farm}/jobs', at(farm())))),
  }))
export const useLooks = (farm: () => string) =>
  watched(() => ({
    queryKey: ['looks', farm()],
    queryFn: () => opened(farm(), 'looks', () => ask(api.GET('/api/farms/{farm}/looks', at(farm())))),
  }))
export const useTreatments = (farm: () => string) =>
  watched(() => ({ queryKey: ['treatments', farm()], queryFn: () => ask(api.GET('/api/farms/{farm}/treatments', at(farm()))) }))
export const useTallies = (farm: () => string) =>
  watched(() => ({ queryKey: ['tallies', farm()], queryFn: () => ask(api.GET('/api/farms/{farm}/tallies', at(farm()))) }))
export const useTrainings = (farm: () => string) =>
  watched(() => ({ queryKey: ['trainings', farm()], queryFn: () => ask(api.GET('/api/farms/{farm}/trainings', at(farm()))) }))
export const useCautions = (farm: () => string) =>
  watched(() => ({
    queryKey: ['cautions', farm()],
    queryFn: () => ask(api.GET('/api/farms/{farm}/cautions', at(farm()))),
  }))
export const useQueue = (farm: () => string, mob: () => string, back: () => number) =>
  watched(() => ({
    queryKey: ['queue', farm(), mob(), back()],
    queryFn: () =>
      ask(
        api.GET('/api/farms/{farm}/queue', {
          params: { path: { farm: farm() }, query: { mob_id: mob() || undefined, weeks_back: back() || undefined } },
        }),
      ),
    placeholderData: keepPreviousData,
  }))
export const useDecisions = (farm: () => string, mob: () => string) =>
  watched(() => ({
    queryKey: ['decisions', farm(), mob()],
    queryFn: () =>
      ask(
        api.GET('/api/farms/{farm}/queue/decisions', {
          params: { path: { farm: farm() }, query: { mob_id: mob() || undefined } },
        }),
      ),
    placeholderData: keepPreviousData,
  }))
export const useBudget = (farm: () => string, months: () => number) =>
  watched(() => ({
    queryKey: ['budget', farm(), months()],
    queryFn: () => ask(api.GET('/api/farms/{farm}/year', { params: { path: { farm: farm() }, query: { months: months() } } })),
    placeholderData: keepPreviousData,
  }))
export const useMeans = (farm: () => string) =>
  watched(() => ({ queryKey: ['means', farm()], queryFn: () => ask(api.GET('/api/farms/{farm}/year/means', at(farm()))) }))
export const usePrices = (farm: () => string) =>
  watched(() => ({ queryKey: ['prices', farm()], queryFn: () => ask(api.GET('/api/farms/{farm}/year/prices', at(farm()))) }))
export const useStockLand = (farm: () => string, reserve: () => number, both: () => boolean) =>
  watched(() => ({
    queryKey: ['stock-land', farm(), reserve(), both()],
    queryFn: () =>
      ask(
        api.GET('/api/farms/{farm}/year/land', {
          params: { path: { farm: farm() }, query: { reserve: reserve(), both: both() } },
        }),
      ),
    placeholderData: keepPreviousData,
  }))
export const useWinter = (farm: () => string) =>
  watched(() => ({ queryKey: ['winter', farm()], queryFn: () => ask(api.GET('/api/farms/{farm}/year/winter', at(farm()))) }))
export const useNutrients = (farm: () => string, plan: () => number) =>
  watched(() => ({
    queryKey: ['nutrients', farm(), plan()],
    queryFn: () =>
      ask(api.GET('/api/farms/{farm}/year/nutrients', { params: { path: { farm: farm() }, query: { plan: plan() } } })),
    placeholderData: keepPreviousData,
  }))
export const useScenarios = (farm: () => string, months: () => number, ids: () => string[]) =>
  watched(() => ({
    queryKey: ['scenarios', farm(), months(), ids().join()],
    queryFn: () =>
      ask(
        api.GET('/api/farms/{farm}/year/scenarios', {
          params: { path: { farm: farm() }, query: { months: months(), ids: ids().length ? ids() : undefined } },
        }),
      ),
    placeholderData: keepPreviousData,
  }))
export const useFodder = (farm: () => string) =>
  watched(() => ({ queryKey: ['fodder', farm()], queryFn: () => ask(api.GET('/api/farms/{farm}/fodder', at(farm()))) }))
export const useLand = (farm: () => string) =>
  watched(() => ({
    queryKey: ['land', farm()],
    queryFn: () => opened(farm(), 'land', () => ask(api.GET('/api/farms/{farm}/land', at(farm())))),
  }))
export const useMobs = (farm: () => string) =>
  watched(() => ({
    queryKey: ['mobs', farm()],
    queryFn: () => opened(farm(), 'mobs', () => ask(api.GET('/api/farms/{farm}/mobs', at(farm())))),
  }))
export const useDemand = (farm: () => string) =>
  watched(() => ({ queryKey: ['demand', farm()], queryFn: () => ask(api.GET('/api/farms/{farm}/demand', at(farm()))) }))
export const useWalk = (farm: () => string) =>
  watched(() => ({ queryKey: ['walk', farm()], queryFn: () => ask(api.GET('/api/farms/{farm}/walk', at(farm()))) }))
export const usePlan = (farm: () => string) =>
  watched(() => ({ queryKey: ['plan', farm()], queryFn: () => ask(api.GET('/api/farms/{farm}/plan', at(farm()))) }))
/** How good the plan is: worked out when somebody asks, and then kept until something it rests on changes. */
export const useGrade = (farm: () => string) =>
  watched(() => ({ queryKey: ['grade', farm()], queryFn: () => ask(api.GET('/api/farms/{farm}/plan/grade', at(farm()))) }))
export const useMoves = (farm: () => string) =>
  watched(() => ({
    queryKey: ['moves', farm()],
    queryFn: () => opened(farm(), 'moves', () => ask(api.GET('/api/farms/{farm}/moves', at(farm())))),
  }))
export const useRidge = (farm: () => string) =>
  watched(() => ({
    queryKey: ['ridge', farm()],
    queryFn: () => opened(farm(), 'ridge', () => ask(api.GET('/api/farms/{farm}/ridge', at(farm())))),
  }))
export const useMembers = (farm: () => string) =>
  watched(() => ({ queryKey: ['members', farm()], queryFn: () => ask(api.GET('/api/farms/{farm}/members', at(farm()))) }))
export const useGround = (farm: () => string) =>
  watched(() => ({
    queryKey: ['ground', farm()],
    queryFn: () => ask(api.GET('/api/farms/{farm}/land/ground', at(farm()))),
    staleTime: Infinity,
  }))
export const useYear = (farm: () => string, year: () => number, measure: () => 'demand' | 'au' | 'lu' | 'weight' | 'head') =>
  watched(() => ({
    queryKey: ['year', farm(), year(), measure()],
    queryFn: () =>
      ask(
        api.GET('/api/farms/{farm}/stock/year', {
          params: { path: { farm: farm() }, query: { year: year(), measure: measure() } },
        }),
      ),
    placeholderData: keepPreviousData,
  }))
export const useClasses = (farm: () => string) =>
  watched(() => ({ queryKey: ['classes', farm()], queryFn: () => ask(api.GET('/api/farms/{farm}/stock/classes', at(farm()))) }))
export const useGrowth = (farm: () => string) =>
  watched(() => ({ queryKey: ['growth', farm()], queryFn: () => ask(api.GET('/api/farms/{farm}/growth', at(farm()))) }))
export const useEyes = (farm: () => string) =>
  watched(() => ({ queryKey: ['eyes', farm()], queryFn: () => ask(api.GET('/api/farms/{farm}/eyes', at(farm()))) }))
export const useCalibrations = (farm: () => string) =>
  watched(() => ({
    queryKey: ['calibrations', farm()],
    queryFn: () => ask(api.GET('/api/farms/{farm}/calibrations', at(farm()))),
  }))
export const useDevices = (farm: () => string) =>
  watched(() => ({ queryKey: ['devices', farm()], queryFn: () => ask(api.GET('/api/farms/{farm}/devices', at(farm()))) }))
export const useWaiting = (farm: () => string) =>
  watched(() => ({
    queryKey: ['waiting', farm()],
    queryFn: () => ask(api.GET('/api/farms/{farm}/readings/waiting', at(farm()))),
  }))
export const useWeather = (farm: () => string) =>
  watched(() => ({ queryKey: ['weather', farm()], queryFn: () => ask(api.GET('/api/farms/{farm}/weather', at(farm()))) }))
