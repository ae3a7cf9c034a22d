import { useInfiniteQuery } from '@tanstack/vue-query'
import { computed, type MaybeRefOrGetter, toValue } from 'vue'

import { api, ask } from '@/api/client'

/** A list that is read in parts: what was read so far, and the way to what follows. */
function useList<T>(
  key: unknown[],
  part: (after: string) => Promise<{ items: T[]; next?: string }>,
  enabled: MaybeRefOrGetter<boolean> = true,
) {
  const query = useInfiniteQuery({
    queryKey: key,
    queryFn: ({ pageParam }) => part(pageParam),
    initialPageParam: '',
    getNextPageParam: (last) => last.next,
    placeholderData: (was) => was,
    enabled: computed(() => toValue(enabled)),
  })
  return {
    items: computed(() => query.data.value?.pages.flatMap((p) => p.items)),
    more: query.hasNextPage,
    reading: query.isFetchingNextPage,
    next: () => void query.fetchNextPage(),
  }
}

const most = 60 // for what is chosen from; the shop's latest things are what one wants

const here = () => false
export const useRecipes = (find: () => string, near: () => string, away = here) =>
  useList(['recipes', 'list', find, near, away], (after) =>
    ask(api.GET('/recipes', { params: { query: { find: find(), near: near(), after, away: away() } } })),
  )
export const useRecipeChoices = (enabled: MaybeRefOrGetter<boolean>) =>
  useList(['recipes', 'choices'], (after) => ask(api.GET('/recipes', { params: { query: { after, most } } })), enabled)
export const useBatches = (recipe: () => string, away = here, project: () => string = () => '') =>
  useList(['batches', 'list', recipe, away, project], (after) =>
    ask(api.GET('/batches', { params: { query: { recipe: recipe(), project: project(), after, away: away() } } })),
  )
export const useProjects = (enabled: MaybeRefOrGetter<boolean> = true, away = here) =>
  useList(
    ['projects', 'list', away],
    (after) => ask(api.GET('/projects', { params: { query: { after, most, away: away() } } })),
    enabled,
  )
export const usePours = (away = here) =>
  useList(['pours', 'list', away], (after) => ask(api.GET('/pours', { params: { query: { after, away: away() } } })))
export const useLeftovers = (away = here) =>
  useList(['leftovers', 'list', away], (after) =>
    ask(api.GET('/leftovers', { params: { query: { after, away: away() } } })),
  )
export const usePacks = (away = here) =>
  useList(['packs', 'list', away], (after) => ask(api.GET('/packs', { params: { query: { after, away: away() } } })))
export const useSupplies = (away = here) =>
  useList(['supplies', 'list', away], (after) =>
    ask(api.GET('/supplies', { params: { query: { after, most, away: away() } } })),
  )
type Season = 'spring' | 'summer' | 'autumn' | 'winter'
export const useLog = (find: () => string, season: () => Season | undefined, near: () => string, away = here) =>
  useList(['log', 'list', find, season, near, away], (after) => {
    const at = season()
    return ask(
      api.GET('/log', {
        params: { query: { find: find(), near: near(), after, away: away(), ...(at ? { season: at } : {}) } },
      }),
    )
  })
export const useReferences = (enabled: MaybeRefOrGetter<boolean> = true, away = here) =>
  useList(
    ['references', 'list', away],
    (after) => ask(api.GET('/references', { params: { query: { after, most, away: away() } } })),
    enabled,
  )
export const useBaits = (enabled: MaybeRefOrGetter<boolean> = true, away = here) =>
  useList(
    ['baits', 'list', away],
    (after) => ask(api.GET('/baits', { params: { query: { after, away: away() } } })),
    enabled,
  )
export const useCups = (also: () => unknown = () => 0, away = here) =>
  useList(['cups', also, away], (after) =>
    ask(api.GET('/cups', { params: { query: { after, most: 24, away: away() } } })),
  )
