<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { RouterLink } from 'vue-router'

import { api, ask, bytesOf, Problem } from '@/api/client'
import ColourPatch from '@/parts/ColourPatch.vue'
import EmptyPlace from '@/parts/EmptyPlace.vue'
import ListMore from '@/parts/ListMore.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import ToggleChip from '@/parts/ToggleChip.vue'
import { amount } from '@/use/amount'
import { useRecipes } from '@/use/lists'
import { useShelf } from '@/use/shop'

const { nameOf } = useShelf()
const client = useQueryClient()
const find = ref('')
const near = ref('')
const away = ref(false)
const {
  items: recipes,
  more,
  reading,
  next,
} = useRecipes(
  () => find.value,
  () => near.value,
  () => away.value,
)
const first = ref('') // the one that another is to be laid beside
const says = ref('')
const done = ref('')

async function bringIn(e: Event) {
  const input = e.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = '' // so that the same file can be chosen again at once
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
    <div class="flex flex-wrap items-center gap-3 pb-4">
      <input
        v-model="find"
        class="field min-w-64 flex-1"
        type="search"
        placeholder="Find by name, tag, note or what is in it"
        aria-label="Find a recipe"
      />
      <label class="flex min-h-11 items-center gap-2">
        Near this colour at 5 mm
        <input
          type="color"
          class="h-11 w-16 cursor-pointer"
          aria-label="Near this colour"
          :value="near || '#8a8a5a'"
          @change="near = ($event.target as HTMLInputElement).value"
        />
      </label>
      <button v-if="near" type="button" class="button" @click="near = ''">Any colour</button>
      <ToggleChip :on="away" @click="away = !away">What was put away</ToggleChip>
    </div>
    <p v-if="first" class="says mb-4 flex items-center justify-between text-ink">
      Choose the one to lay beside {{ recipes?.find((r) => r.uid === first)?.name ?? 'it' }}.
      <button type="button" class="link min-h-11" @click="first = ''">Never mind</button>
    </p>
    <ProblemNote class="mb-4 text-ink" :says="says" />
    <p v-if="done" class="says mb-4 text-ink" role="status">{{ done }}</p>
    <ul class="grid grid-cols-1 gap-3 lg:grid-cols-2">
      <li v-for="r in recipes" :key="r.uid" class="flex items-stretch">
        <RouterLink
          :to="first && first !== r.uid ? `/beside?one=${first}&other=${r.uid}` : `/recipes/${r.uid}`"
          class="flex min-w-0 flex-1 items-stretch"
        >
          <span class="flex w-44 shrink-0 flex-col">
            <img
              :src="`/api/v1/recipes/${r.uid}/picture?revision=${r.revision}`"
              :alt="`A bait of ${r.name}, predicted`"
              class="aspect-5/2 w-full flex-1 bg-[#f0f0f0] object-contain"
              loading="lazy"
              draggable="false"
            />
            <ColourPatch
              :hex="r.seen.swatch.hex"
              :name="`${r.name} at ${r.seen.thicknessMM} mm`"
              class="h-6 shrink-0"
            />
          </span>
          <div class="panel min-w-0 flex-1 px-4 py-3">
            <p class="truncate text-lg font-semibold">{{ r.name }}</p>
            <p class="truncate">
              <span class="figure">{{ r.volume.typed }}</span>:
              <template v-for="(d, i) in r.doses" :key="d.material"
                >{{ i ? ', ' : '' }}<span class="figure">{{ amount(d) }}</span> {{ nameOf(d.material) }}</template
              ><template v-if="!r.doses.length">clear</template>
            </p>
            <p class="text-slate">
              Version {{ r.revision }}, saved
              {{ new Date(r.savedAt).toLocaleDateString(undefined, { dateStyle: 'medium' })
              }}<template v-if="r.seen.nearness"> · {{ r.seen.nearness }} to its target</template>
              <template v-if="r.deltaE00 !== undefined">
                · ΔE00 <span class="figure">{{ r.deltaE00.toFixed(0) }}</span> from the colour sought</template
              >
            </p>
            <p v-if="r.tags?.length || r.ownUse" class="truncate text-slate">
              {{ [...(r.tags ?? []), ...(r.ownUse ? ['own use only'] : [])].join(' · ') }}
            </p>
          </div>
        </RouterLink>
        <button
          type="button"
          class="button border-haze px-3"
          :aria-label="`Lay another beside ${r.name}`"
          :aria-pressed="first === r.uid"
          @click="first = first === r.uid ? '' : r.uid"
        >
          Beside…
        </button>
      </li>
    </ul>
    <ListMore class="mt-3" :more="more" :reading="reading" @next="next" />
    <p v-if="recipes && !recipes.length && (find || away)" class="text-lg">
      {{ find ? 'No recipe has all of these words.' : 'No recipe was put away.' }}
    </p>
    <EmptyPlace v-else-if="recipes && !recipes.length" picture="recipes">
      No recipes yet. Drip one on the bench and save it, or bring in a recipe file.
    </EmptyPlace>
  </section>
</template>
