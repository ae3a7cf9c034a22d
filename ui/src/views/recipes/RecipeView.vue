<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'

import { api, ask, Problem } from '@/api/client'
import ColourPatch from '@/parts/ColourPatch.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import { useShelf } from '@/use/shop'
import BatchList from '@/views/batches/BatchList.vue'

import ScalePanel from './ScalePanel.vue'

const route = useRoute()
const router = useRouter()
const { nameOf } = useShelf()
const uid = computed(() => route.params.recipe as string)
const { data: recipe, error } = useQuery({
  queryKey: ['recipes', uid],
  queryFn: () => ask(api.GET('/recipes/{recipe}', { params: { path: { recipe: uid.value } } })),
  retry: (n, e) => !(e instanceof Problem && e.status === 404) && n < 2,
})
const { data: batches } = useQuery({
  queryKey: ['batches', uid],
  queryFn: () => ask(api.GET('/batches', { params: { query: { recipe: uid.value } } })),
})
const says = ref('')

async function pour(volume: string) {
  says.value = ''
  try {
    const cup = await ask(api.POST('/bench', { params: { query: {} }, body: { recipe: uid.value, volume } }))
    await router.push(`/bench/${cup.uid}`)
  } catch (e) {
    says.value = e instanceof Problem ? e.message : String(e)
  }
}
</script>

<template>
  <section v-if="recipe" class="grid flex-1 lg:grid-cols-[26rem_1fr]">
    <div class="surround flex flex-col gap-3 p-4">
      <h1>{{ recipe.name }}</h1>
      <ColourPatch :hex="recipe.look.swatch.hex" :name="`${recipe.name}, predicted`" class="h-44" />
      <p>
        <span class="figure">{{ recipe.look.thicknessMM }} mm</span>
        {{ recipe.look.ground === 'against' ? 'against the light' : `over ${recipe.look.ground}` }}, predicted.
        <template v-if="recipe.look.against"
          >Against {{ recipe.target?.name }}: {{ recipe.look.against.nearness }}
          <template v-if="recipe.look.against.words">({{ recipe.look.against.words }})</template>, ΔE00
          <span class="figure">{{ recipe.look.against.deltaE00.toFixed(1) }}</span>.</template
        >
      </p>
      <table class="w-full bg-mist text-ink">
        <caption class="bg-mist px-3 pt-2 text-left font-semibold">
          In
          <span class="figure">{{ recipe.volume.typed }}</span>
          of
          {{
            nameOf(recipe.plastisol)
          }}
        </caption>
        <tbody>
          <tr v-for="d in recipe.doses" :key="d.material" class="border-t border-haze">
            <td class="px-3 py-2">{{ nameOf(d.material) }}</td>
            <td class="figure px-3 py-2 text-right">{{ d.typed }}</td>
          </tr>
        </tbody>
      </table>
      <p v-if="recipe.notes" class="whitespace-pre-line">{{ recipe.notes }}</p>
      <div class="flex flex-wrap gap-3">
        <button type="button" class="button button-main" @click="pour('')">Pour it on the bench</button>
        <RouterLink :to="`/batches/new/${recipe.uid}`" class="button">Record a test batch</RouterLink>
        <a class="button" :href="`/api/v1/recipes/${recipe.uid}/export`" download>Export</a>
      </div>
      <ProblemNote class="text-ink" :says="says" />
    </div>
    <div class="flex min-w-0 flex-col gap-6 p-4">
      <ScalePanel :recipe="recipe" @pour="pour" />
      <div>
        <h2 class="pb-2">Test batches</h2>
        <BatchList :batches="batches ?? []" />
        <p v-if="batches && !batches.length" class="text-slate">
          None yet. After a pour, write down what really went in.
        </p>
      </div>
    </div>
  </section>
  <section v-else-if="error" class="p-8"><ProblemNote :says="error.message" /></section>
</template>
