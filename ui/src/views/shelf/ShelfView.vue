<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'

import { api, ask, Problem } from '@/api/client'
import ColourPatch from '@/parts/ColourPatch.vue'
import ListPicker from '@/parts/ListPicker.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import { useShelf } from '@/use/shop'

const { bottles, query } = useShelf()
const client = useQueryClient()
const { data: families } = useQuery({
  queryKey: ['families'],
  queryFn: () => ask(api.GET('/families')),
  staleTime: Infinity,
})
const family = ref('medium-plastisol')
const about = computed(() => families.value?.find((f) => f.key === family.value)?.about)
const name = ref('')
const problem = ref<Problem>()
const origins = { typical: 'typical of its family', maker: "from the maker's sheet", measured: 'measured by you' }

async function add() {
  problem.value = undefined
  try {
    await ask(api.POST('/shelf', { body: { family: family.value, name: name.value } }))
    name.value = ''
    await client.invalidateQueries({ queryKey: ['shelf'] })
  } catch (e) {
    problem.value = e instanceof Problem ? e : new Problem(0, String(e))
  }
}
</script>

<template>
  <section class="grid flex-1 lg:grid-cols-[1fr_24rem]">
    <div class="surround p-4">
      <h1>Shelf</h1>
      <p class="pb-3">Each colour is a usual dose in an 8 mm body over white.</p>
      <ul class="grid gap-3 sm:grid-cols-2 xl:grid-cols-3">
        <li v-for="b in bottles" :key="b.uid" class="flex items-stretch">
          <ColourPatch :hex="b.swatch.hex" :name="`${b.name} at ${b.dose}`" class="w-24 shrink-0" />
          <div class="min-w-0 flex-1 bg-mist px-3 py-2 text-ink">
            <p class="truncate font-semibold">{{ b.name }}</p>
            <p v-if="b.plastisol">Plastisol, {{ b.plastisol.grade }}</p>
            <p v-else-if="b.colourant">
              {{ b.colourant.movement === 'bleeds' ? 'Dye: bleeds' : 'Pigment: stays put' }}<br />
              <span class="figure">{{ b.colourant.usualDrops?.join('–') }}</span> drops a cup
            </p>
            <p class="text-slate">{{ origins[(b.colourant ?? b.plastisol)?.optics.origin ?? 'typical'] }}</p>
            <p v-if="b.note" class="text-slate">{{ b.note }}</p>
          </div>
        </li>
      </ul>
      <p v-if="query.isSuccess.value && !bottles.length" class="text-lg">
        Nothing here yet. Begin with a plastisol, then a black, a white and the colours you own.
      </p>
    </div>
    <form class="flex flex-col gap-4 border-l border-haze bg-mist p-4" @submit.prevent="add">
      <h2>Put a bottle on the shelf</h2>
      <div>
        <span>Start from a family</span>
        <ListPicker v-model="family" label="Family" :options="families ?? []" />
        <p class="pt-1 text-slate">{{ about }}</p>
      </div>
      <label class="block">
        <span>Your own name for it</span>
        <input v-model="name" class="field" type="text" autocomplete="off" :aria-invalid="problem?.field === 'name'" />
      </label>
      <ProblemNote :says="problem?.message" />
      <button type="submit" class="button button-main">Add it</button>
      <p class="text-slate">
        It starts with typical values of its family. They are estimates until a bottle is measured. The maker's safety
        data sheet always comes first.
      </p>
    </form>
  </section>
</template>
