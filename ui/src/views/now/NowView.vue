<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { RouterLink, useRouter } from 'vue-router'

import { api, ask } from '@/api/client'
import ColourPatch from '@/parts/ColourPatch.vue'
import EmptyPlace from '@/parts/EmptyPlace.vue'
import { useBatches, useCups, useReferences } from '@/use/lists'
import { useShelf, useShop } from '@/use/shop'
import StarterRack from '@/views/shelf/StarterRack.vue'

// Where one is: what was last on the bench, which targets are open, what was poured last, and what is low.
const { data: shop } = useShop()
const shelf = useShelf()
const router = useRouter()
const { items: cups } = useCups()
const { items: references } = useReferences()
const { items: batches } = useBatches(() => '')
const last = computed(() => cups.value?.[0]?.uid)
const { data: state } = useQuery({
  queryKey: ['now', last],
  queryFn: () => ask(api.GET('/cups/{cup}', { params: { path: { cup: last.value! } } })),
  enabled: computed(() => !!last.value),
  retry: false,
})
const low = computed(() => shelf.bottles.value.filter((b) => b.stockLow))
const empty = computed(() => shelf.query.isSuccess.value && !shelf.bottles.value.length)
</script>

<template>
  <section class="flex flex-1 flex-col">
    <div v-if="empty" class="max-w-2xl p-8">
      <h1>An empty shop</h1>
      <p class="py-2">
        There is no plastisol on the shelf yet. Begin with the bottles that you own; then a cup is a tap away.
      </p>
      <StarterRack @there="router.push('/bench')" />
      <p class="mt-4 mb-8 flex flex-wrap gap-3">
        <RouterLink to="/bench" class="button button-main">To the bench</RouterLink>
        <RouterLink to="/shelf" class="button">Put bottles on the shelf</RouterLink>
        <RouterLink to="/recipes" class="button">Bring in a recipe file</RouterLink>
      </p>
      <EmptyPlace picture="bait">
        What it is for: every drop shows on the bait before anything is heated, and each batch that you pour and read
        makes the next one surer.
      </EmptyPlace>
    </div>
    <template v-else>
      <RouterLink
        v-if="state && last"
        :to="`/bench/${last}`"
        class="block text-black"
        :style="{ background: state.bait.paper }"
        :aria-label="`${state.own || state.recipeName || 'The cup that was touched last'}, to the bench`"
      >
        <img :src="state.bait.png" alt="" class="mx-auto w-full max-w-4xl" />
      </RouterLink>
      <div class="surround grid flex-1 grid-cols-1 content-start gap-8 p-6 md:grid-cols-3">
        <div>
          <p v-if="shop" class="text-sm">{{ shop.name }}</p>
          <template v-if="state && last">
            <h1>{{ state.own || state.recipeName || 'A cup of its own' }}</h1>
            <p v-if="state.look.against" class="pt-1 leading-tight">
              <span class="first-letter:uppercase">{{ state.look.against.nearness }}</span>, ΔE00
              <span class="figure font-semibold">{{ state.look.against.deltaE00.toFixed(1) }}</span> from
              {{ state.cup.target?.name }}.
            </p>
            <p v-else class="pt-1">No target yet.</p>
          </template>
          <h1 v-else>Nothing on the bench yet</h1>
          <p class="pt-3">
            <RouterLink :to="last ? `/bench/${last}` : '/bench'" class="button button-main">{{
              last ? 'Go on with it' : 'A first cup'
            }}</RouterLink>
          </p>
          <ul class="pt-4">
            <li v-for="c in (cups ?? []).slice(1, 6)" :key="c.uid">
              <RouterLink :to="`/bench/${c.uid}`" class="flex min-h-11 items-center gap-3">
                <ColourPatch :hex="c.swatch.hex" :name="c.name" class="h-8 w-8 rounded-sm" />{{ c.name }}
              </RouterLink>
            </li>
          </ul>
        </div>
        <div>
          <h2>Targets</h2>
          <p v-if="references && !references.length" class="pt-1">
            A target is a colour that you are after, pinned on a photo of a bait, measured, or in mind.
          </p>
          <ul class="flex flex-col gap-2 pt-2">
            <li v-for="r in (references ?? []).slice(0, 3)" :key="r.uid">
              <RouterLink :to="`/references/${r.uid}`" class="flex min-h-11 items-center gap-3">
                <img v-if="r.photo" :src="`/api/v1/photos/${r.photo.uid}`" alt="" class="h-16 w-24 object-cover" />
                {{ r.name }}
              </RouterLink>
            </li>
          </ul>
          <p class="pt-2"><RouterLink to="/references" class="button">A new target</RouterLink></p>
        </div>
        <div>
          <h2>Poured last</h2>
          <ul class="pt-1">
            <li v-for="b in (batches ?? []).slice(0, 2)" :key="b.uid" class="py-1 leading-tight">
              <RouterLink to="/batches" class="block min-h-11"
                ><span class="figure text-sm">{{ b.pouredOn }}</span
                ><br />{{ b.verdict || 'Not judged yet' }}</RouterLink
              >
            </li>
          </ul>
          <h2 class="pt-4">Running low</h2>
          <p v-if="!low.length" class="pt-1">Nothing that is counted is low.</p>
          <ul class="pt-1">
            <li v-for="b in low.slice(0, 6)" :key="b.uid">
              <RouterLink :to="`/shelf/${b.uid}`" class="flex min-h-11 items-center gap-3">
                <ColourPatch :hex="b.swatch.hex" :name="b.name" class="h-8 w-3 rounded-sm" />{{ b.name }}
              </RouterLink>
            </li>
          </ul>
        </div>
      </div>
    </template>
  </section>
</template>
