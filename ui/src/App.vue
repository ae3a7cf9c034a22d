<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink, RouterView, useRoute } from 'vue-router'

import SurroundSwitch from '@/parts/SurroundSwitch.vue'
import { useKeeping } from '@/use/keeping'
import { useShop } from '@/use/shop'

const { data: shop } = useShop()
const keeping = useKeeping()
const gone = keeping.gone
const route = useRoute()
const places = [
  { to: '/bench', word: 'Bench' },
  { to: '/baits', word: 'Baits' },
  { to: '/references', word: 'References' },
  { to: '/match', word: 'Match' },
  { to: '/recipes', word: 'Recipes' },
  { to: '/batches', word: 'Test batches' },
  { to: '/shelf', word: 'Shelf' },
]
const homes: Record<string, string> = {
  '/count': '/bench',
  '/molds': '/baits',
  '/sheet': '/baits',
  '/kit': '/shelf',
  '/beside': '/recipes',
}
const here = computed(() => {
  const first = '/' + (route.path.split('/')[1] ?? '')
  return homes[first] ?? first
})
</script>

<template>
  <div class="flex min-h-dvh flex-col">
    <header class="flex flex-wrap items-stretch border-b border-haze bg-mist px-4">
      <RouterLink to="/bench" class="flex min-h-14 items-center gap-2 pr-5" aria-label="Cloudburst, to the bench">
        <svg viewBox="0 0 32 32" class="h-7 w-7" aria-hidden="true">
          <path d="M4 12h24M9 7h14" stroke="currentColor" stroke-width="2" fill="none" stroke-linecap="round" />
          <path
            d="M16 14c4 5 6 7 6 10a6 6 0 0 1-12 0c0-3 2-5 6-10z"
            stroke="currentColor"
            stroke-width="2"
            fill="none"
            stroke-linejoin="round"
          />
        </svg>
        <span class="text-lg font-semibold tracking-tight">Cloudburst</span>
      </RouterLink>
      <nav class="flex items-stretch overflow-x-auto max-lg:order-last max-lg:w-full" aria-label="Places">
        <RouterLink
          v-for="p in places"
          :key="p.to"
          :to="p.to"
          class="flex min-h-12 items-center border-b-3 px-4 whitespace-nowrap"
          :class="here === p.to ? 'border-ink font-semibold' : 'border-transparent text-slate'"
          :aria-current="here === p.to ? 'page' : undefined"
          >{{ p.word }}</RouterLink
        >
      </nav>
      <div class="ml-auto flex items-center gap-4">
        <span v-if="shop" class="text-slate max-lg:hidden"
          >{{ shop.name }}<template v-if="shop.demo"> · demo, all made up</template></span
        >
        <SurroundSwitch />
      </div>
    </header>
    <div
      v-if="gone"
      class="fixed bottom-4 left-4 z-40 flex max-w-[90vw] flex-wrap items-center gap-3 border border-ink bg-white p-3"
      role="status"
      data-testid="gone"
    >
      “{{ gone.name.slice(0, 60) }}” was {{ gone.kept === 'away' ? 'put away' : 'deleted' }}.
      <button type="button" class="button" @click="keeping.undo">Bring it back</button>
      <button type="button" class="link min-h-11 px-2" @click="keeping.forget">Good</button>
    </div>
    <main class="flex flex-1 flex-col">
      <RouterView />
    </main>
  </div>
</template>
