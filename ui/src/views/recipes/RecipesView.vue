<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { RouterLink } from 'vue-router'

import { api, ask, bytesOf, Problem } from '@/api/client'
import ColourPatch from '@/parts/ColourPatch.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import { useShelf } from '@/use/shop'

const { nameOf } = useShelf()
const client = useQueryClient()
const { data: recipes } = useQuery({ queryKey: ['recipes'], queryFn: () => ask(api.GET('/recipes')) })
const says = ref('')
const done = ref('')

async function bringIn(e: Event) {
  const input = e.target as HTMLInputElement
  const file = input.files?.[0]
  says.value = done.value = ''
  if (!file) return
  try {
    const got = await ask(api.POST('/recipes/import', bytesOf(file)))
    const bottles = got.newMaterials === 1 ? '1 new bottle' : `${got.newMaterials} new bottles`
    done.value = got.alreadyThere
      ? `“${got.recipe.name}” is here already, just the same. Nothing was changed.`
      : `“${got.recipe.name}” is in, with ${bottles}.` +
        (got.renamed ? ' A recipe from the same source with other contents was here: both are kept.' : '')
    await client.invalidateQueries()
  } catch (err) {
    says.value = err instanceof Problem ? err.message : String(err)
  }
  input.value = ''
}
</script>

<template>
  <section class="surround flex-1 p-4">
    <div class="flex flex-wrap items-center gap-3 pb-4">
      <h1 class="mr-auto">Recipes</h1>
      <label class="button cursor-pointer focus-within:outline-3 focus-within:outline-press">
        Bring in a recipe file
        <input type="file" accept=".json,application/json" class="sr-only" aria-label="Recipe file" @change="bringIn" />
      </label>
      <RouterLink to="/bench" class="button">To the bench</RouterLink>
    </div>
    <ProblemNote class="mb-4 text-ink" :says="says" />
    <p v-if="done" class="says mb-4 text-ink" role="status">{{ done }}</p>
    <ul class="grid gap-3 lg:grid-cols-2">
      <li v-for="r in recipes" :key="r.uid">
        <RouterLink :to="`/recipes/${r.uid}`" class="flex items-stretch">
          <ColourPatch :hex="r.look.swatch.hex" :name="`${r.name} at ${r.look.thicknessMM} mm`" class="w-36 shrink-0" />
          <div class="min-w-0 flex-1 bg-mist px-4 py-3 text-ink">
            <p class="truncate text-lg font-semibold">{{ r.name }}</p>
            <p class="truncate">
              <span class="figure">{{ r.volume.typed }}</span>:
              <template v-for="(d, i) in r.doses" :key="d.material"
                >{{ i ? ', ' : '' }}<span class="figure">{{ d.drops }}</span> {{ nameOf(d.material) }}</template
              ><template v-if="!r.doses.length">clear</template>
            </p>
            <p class="text-slate">
              Version {{ r.revision }}, saved
              {{ new Date(r.savedAt).toLocaleDateString(undefined, { dateStyle: 'medium' })
              }}<template v-if="r.look.against"> · {{ r.look.against.nearness }} to its target</template>
            </p>
          </div>
        </RouterLink>
      </li>
    </ul>
    <p v-if="recipes && !recipes.length" class="text-lg">
      No recipes yet. Drip one on the bench and save it, or bring in a recipe file.
    </p>
  </section>
</template>
