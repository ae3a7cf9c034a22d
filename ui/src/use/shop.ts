import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'

import { api, ask, type Bottle } from '@/api/client'

/** The shop, with the grounds, lights and marks that the core knows. */
export const useShop = () => useQuery({ queryKey: ['shop'], queryFn: () => ask(api.GET('/shop')), staleTime: Infinity })

/** The shelf, as a list and by uid. */
export function useShelf() {
  const query = useQuery({ queryKey: ['shelf'], queryFn: () => ask(api.GET('/materials')) })
  const bottles = computed<Bottle[]>(() => (query.data.value ?? []).filter((b) => !b.retired))
  const byUID = computed(() => new Map((query.data.value ?? []).map((b) => [b.uid, b]))) // retired ones, too
  const nameOf = (uid: string) => byUID.value.get(uid)?.name ?? uid
  return { query, bottles, byUID, nameOf }
}

/** What a bait can be chosen from: molds of one's own, then the built-in shapes. */
export const useShapes = () => useQuery({ queryKey: ['shapes'], queryFn: () => ask(api.GET('/shapes')) })
