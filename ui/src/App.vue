<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink, RouterView, useRoute } from 'vue-router'

import NavIcon from '@/parts/NavIcon.vue'
import SurroundSwitch from '@/parts/SurroundSwitch.vue'
import { useKeeping } from '@/use/keeping'
import { useShop } from '@/use/shop'

const { data: shop } = useShop()
const keeping = useKeeping()
const gone = keeping.gone
const route = useRoute()
// In the order of the work.
const places = [
  { to: '/references', word: 'Targets' },
  { to: '/match', word: 'Match' },
  { to: '/bench', word: 'Bench' },
  { to: '/baits', word: 'Baits' },
  { to: '/projects', word: 'Projects' },
  { to: '/pours', word: 'Pour' },
  { to: '/recipes', word: 'Recipes' },
  { to: '/shelf', word: 'Shelf' },
]
const homes: Record<string, string> = {
  '/count': '/bench',
  '/batches': '/projects',
  '/leftovers': '/pours',
  '/log': '/pours',
  '/packs': '/pours',
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
  <div class="flex min-h-dvh flex-col lg:pl-22">
    <header class="rail" data-testid="rail">
      <RouterLink
        to="/"
        class="flex h-16 items-center justify-center max-lg:hidden"
        aria-label="Cloudburst, to the first page"
      >
        <svg viewBox="0 0 32 32" class="h-8 w-8" aria-hidden="true">
          <path d="M4 12h24M9 7h14" stroke="currentColor" stroke-width="2" fill="none" stroke-linecap="round" />
          <path
            d="M16 14c4 5 6 7 6 10a6 6 0 0 1-12 0c0-3 2-5 6-10z"
            stroke="currentColor"
            stroke-width="2"
            fill="none"
            stroke-linejoin="round"
          />
        </svg>
      </RouterLink>
      <nav class="flex lg:flex-col" aria-label="Places">
        <RouterLink
          v-for="p in places"
          :key="p.to"
          :to="p.to"
          class="place"
          :class="{ 'max-sm:hidden': p.to === '/recipes' && here !== '/recipes' }"
          :aria-current="here === p.to ? 'page' : undefined"
          ><NavIcon :of="p.to.slice(1)" />{{ p.word }}</RouterLink
        >
      </nav>
      <SurroundSwitch class="mt-auto max-lg:hidden" />
      <span v-if="shop" class="sr-only">{{ shop.name }}<template v-if="shop.demo"> · demo, all made up</template></span>
    </header>
    <div
      v-if="gone"
      class="fixed bottom-20 left-4 z-40 flex max-w-[90vw] flex-wrap items-center gap-3 rounded-2xl bg-white p-3 shadow-xl lg:bottom-4 lg:left-26"
      role="status"
      data-testid="gone"
    >
      “{{ gone.name.slice(0, 60) }}” was {{ gone.kept === 'away' ? 'put away' : 'deleted' }}.
      <button type="button" class="button" @click="keeping.undo">Bring it back</button>
      <button type="button" class="link min-h-11 px-2" @click="keeping.forget">Good</button>
    </div>
    <main class="flex flex-1 flex-col max-lg:pb-16">
      <RouterView />
    </main>
  </div>
</template>
