import { createQuery, QueryClient } from '@tanstack/svelte-query'
import { api, ask } from './client'

// One query a place. After any change everything is read anew: the rows are computed from the facts each time.
export const queries = new QueryClient({
  defaultOptions: { queries: { staleTime: 15_000, retry: 1, refetchOnWindowFocus: true } },
})

export function refresh() {
  return queries.invalidateQueries()
}

const at = (farm: string) => ({ params: { path: { farm } } })

export const useMe = () => createQuery(() => ({ queryKey: ['me'], queryFn: () => ask(api.GET('/api/me')), retry: false }))
export const useHouse = () =>
  createQuery(() => ({ queryKey: ['house'], queryFn: () => ask(api.GET('/api/house')), staleTime: Infinity }))
export const useSums = () =>
  createQuery(() => ({ queryKey: ['sums'], queryFn: () => ask(api.GET('/api/sums')), staleTime: Infinity }))
export const useReference = () =>
  createQuery(() => ({ queryKey: ['reference'], queryFn: () => ask(api.GET('/api/reference')), staleTime: Infinity }))
export const useToday = (farm: () => string) =>
  createQuery(() => ({ queryKey: ['today', farm()], queryFn: () => ask(api.GET('/api/farms/{farm}/today', at(farm()))) }))
export const useLand = (farm: () => string) =>
  createQuery(() => ({ queryKey: ['land', farm()], queryFn: () => ask(api.GET('/api/farms/{farm}/land', at(farm()))) }))
export const useMobs = (farm: () => string) =>
  createQuery(() => ({ queryKey: ['mobs', farm()], queryFn: () => ask(api.GET('/api/farms/{farm}/mobs', at(farm()))) }))
export const useWalk = (farm: () => string) =>
  createQuery(() => ({ queryKey: ['walk', farm()], queryFn: () => ask(api.GET('/api/farms/{farm}/walk', at(farm()))) }))
export const usePlan = (farm: () => string) =>
  createQuery(() => ({ queryKey: ['plan', farm()], queryFn: () => ask(api.GET('/api/farms/{farm}/plan', at(farm()))) }))
export const useMoves = (farm: () => string) =>
  createQuery(() => ({ queryKey: ['moves', farm()], queryFn: () => ask(api.GET('/api/farms/{farm}/moves', at(farm()))) }))
export const useRidge = (farm: () => string) =>
  createQuery(() => ({ queryKey: ['ridge', farm()], queryFn: () => ask(api.GET('/api/farms/{farm}/ridge', at(farm()))) }))
export const useMembers = (farm: () => string) =>
  createQuery(() => ({ queryKey: ['members', farm()], queryFn: () => ask(api.GET('/api/farms/{farm}/members', at(farm()))) }))
