import { computed } from 'vue'

import type { ReferenceCard, ShopInfo } from '@/api/client'

type Pin = ReferenceCard['pins'][number]

// What a reference may lie on, and how old its plastic may be, to choose from. Raw plastisol is no bait.
export function useLaid(shop: () => ShopInfo) {
  const grounds = computed(() => shop().grounds as { key: Pin['ground']; name: string }[])
  const states = computed(
    () => shop().states.filter((s) => s.key !== 'raw') as { key: 'hot' | 'fresh' | 'rested'; name: string }[],
  )
  return { grounds, states }
}
