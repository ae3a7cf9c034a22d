<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { RouterLink, useRoute } from 'vue-router'

import { api, ask } from '@/api/client'
import ColourPatch from '@/parts/ColourPatch.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import { useShelf, useShop } from '@/use/shop'
import WedgeView from '@/views/bench/WedgeView.vue'

// Two recipes, or two versions of one: doses and pictures side by side.
const route = useRoute()
const { data: shop } = useShop()
const { nameOf } = useShelf()
const mm = ref(8)
const q = (key: string) => (route.query[key] as string) ?? ''
const query = computed(() => ({
  one: q('one'),
  oneAt: Number(q('oneAt')) || 0,
  other: q('other'),
  otherAt: Number(q('otherAt')) || 0,
  thickness: mm.value,
}))
const { data, error } = useQuery({
  queryKey: ['recipes', 'beside', query],
  queryFn: () => ask(api.GET('/comparisons/recipes', { params: { query: query.value } })),
  placeholderData: (was) => was,
  retry: false,
})
const sides = computed(() => (data.value ? [data.value.one, data.value.other] : []))
</script>

<template>
  <section v-if="data && shop" class="surround flex flex-1 flex-col gap-4 p-4">
    <h1>Side by side</h1>
    <div class="flex h-36">
      <ColourPatch v-for="(s, i) in sides" :key="i" :hex="s.swatch.hex" :name="s.name" class="flex-1" />
    </div>
    <p class="text-lg">
      At <span class="figure">{{ mm }} mm</span> over white: {{ data.difference.nearness
      }}<template v-if="data.difference.words">; the right one is {{ data.difference.words }}</template
      >. ΔE00 <span class="figure">{{ data.difference.deltaE00.toFixed(1) }}</span>
    </p>
    <div class="grid gap-6 md:grid-cols-2">
      <div v-for="(s, i) in sides" :key="i" class="flex min-w-0 flex-col gap-3">
        <h2>
          <RouterLink :to="`/recipes/${s.uid}`" class="underline underline-offset-4">{{ s.name }}</RouterLink>, version
          <span class="figure">{{ s.revision }}</span>
        </h2>
        <WedgeView :wedge="s.wedge" :shop="shop" :mm="mm" @mm="(v) => (mm = v)" />
        <table class="panel w-full">
          <tbody>
            <tr>
              <td class="px-3 py-2">{{ nameOf(s.plastisol) }}</td>
              <td class="figure px-3 py-2 text-right">{{ s.volume.typed }}</td>
            </tr>
            <tr v-for="d in s.doses" :key="d.material" class="border-t border-haze">
              <td class="px-3 py-2">{{ nameOf(d.material) }}</td>
              <td class="figure px-3 py-2 text-right">{{ d.typed }}</td>
            </tr>
          </tbody>
        </table>
      </div>
    </div>
    <div>
      <h2>From left to right</h2>
      <ul class="list-inside list-disc">
        <li v-for="c in data.changed" :key="c">{{ c }}</li>
        <li v-if="!data.changed.length">Nothing differs in the cup.</li>
      </ul>
    </div>
  </section>
  <section v-else-if="error" class="p-8"><ProblemNote :says="error.message" /></section>
</template>
