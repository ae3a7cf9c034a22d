<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'

import { api, ask, Problem, saysOf } from '@/api/client'
import ColourPatch from '@/parts/ColourPatch.vue'
import KeepMenu from '@/parts/KeepMenu.vue'
import ListMore from '@/parts/ListMore.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import { useBatches } from '@/use/lists'
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
const { items: batches, more, reading, next } = useBatches(() => uid.value)
const says = ref('')
const client = useQueryClient()
const { data: versions } = useQuery({
  queryKey: ['recipes', uid, 'versions', () => recipe.value?.revision],
  queryFn: () => ask(api.GET('/recipes/{recipe}/versions', { params: { path: { recipe: uid.value } } })),
  enabled: computed(() => !!recipe.value),
})
const tagsTyped = ref<string>()
const creditTyped = ref<string>()
async function about(change: { tags?: string[]; credit?: string; ownUse?: boolean }) {
  const r = recipe.value
  if (!r) return
  says.value = ''
  try {
    await ask(
      api.PATCH('/recipes/{recipe}', {
        params: { path: { recipe: uid.value } },
        body: {
          seen: r.revision,
          name: r.name,
          notes: r.notes ?? '',
          tags: r.tags ?? [],
          credit: r.credit ?? '',
          ownUse: !!r.ownUse,
          ...change,
        },
      }),
    )
    await client.invalidateQueries({ queryKey: ['recipes'] })
  } catch (e) {
    says.value = saysOf(e)
  }
}
async function fork() {
  says.value = ''
  try {
    const made = await ask(
      api.POST('/recipes/{recipe}/fork', {
        params: { path: { recipe: uid.value } },
        body: { name: `${recipe.value?.name}, my way` },
      }),
    )
    await client.invalidateQueries({ queryKey: ['recipes'] })
    await router.push(`/recipes/${made.uid}`)
  } catch (e) {
    says.value = saysOf(e)
  }
}

async function pour(volume: string, rounding?: 'lines' | 'together' | 'weaker') {
  says.value = ''
  try {
    const cup = await ask(api.POST('/cups', { params: { query: {} }, body: { recipe: uid.value, volume, rounding } }))
    await router.push(`/bench/${cup.uid}`)
  } catch (e) {
    says.value = saysOf(e)
  }
}
</script>

<template>
  <section v-if="recipe" class="grid flex-1 grid-cols-1 lg:grid-cols-[26rem_1fr]">
    <div class="surround flex flex-col gap-3 p-4">
      <div class="flex flex-wrap items-center gap-3">
        <h1 class="mr-auto">{{ recipe.name }}</h1>
        <KeepMenu
          what="recipe"
          :uid="recipe.uid"
          :name="recipe.name"
          :kept="recipe.kept"
          right
          @gone="router.push('/recipes')"
        />
      </div>
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
      <div class="panel overflow-hidden">
        <table class="w-full">
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
      </div>
      <p v-if="recipe.notes" class="whitespace-pre-line">{{ recipe.notes }}</p>
      <p v-if="recipe.forkOf">
        Made from
        <RouterLink :to="`/recipes/${recipe.forkOf}`" class="underline underline-offset-4">another recipe</RouterLink>.
      </p>
      <div class="flex flex-wrap gap-3">
        <button type="button" class="button button-main" @click="pour('')">Pour it on the bench</button>
        <RouterLink :to="`/batches/new/${recipe.uid}`" class="button">Record a test batch</RouterLink>
        <RouterLink :to="`/pours?recipe=${recipe.uid}`" class="button">Pour baits of it</RouterLink>
        <button type="button" class="button" @click="fork">Make one from it</button>
        <a class="button" :href="`/api/v1/recipes/${recipe.uid}/export`" download>Export</a>
      </div>
      <ProblemNote class="text-ink" :says="says" />
      <form
        class="flex flex-col gap-2"
        @submit.prevent="
          about({
            tags: (tagsTyped ?? recipe.tags?.join(', ') ?? '').split(','),
            credit: creditTyped ?? recipe.credit ?? '',
          })
        "
      >
        <label
          >Tags, with commas<input
            class="field text-ink"
            type="text"
            :value="tagsTyped ?? recipe.tags?.join(', ')"
            @input="tagsTyped = ($event.target as HTMLInputElement).value"
        /></label>
        <label
          >Whose idea<input
            class="field text-ink"
            type="text"
            :value="creditTyped ?? recipe.credit"
            @input="creditTyped = ($event.target as HTMLInputElement).value"
        /></label>
        <div class="flex items-center gap-4">
          <button type="submit" class="button">Keep</button>
          <label class="flex min-h-11 items-center gap-2">
            <input
              type="checkbox"
              class="h-5 w-5"
              :checked="!!recipe.ownUse"
              @change="about({ ownUse: ($event.target as HTMLInputElement).checked })"
            />
            For own use only
          </label>
        </div>
      </form>
    </div>
    <div class="flex min-w-0 flex-col gap-6 p-4">
      <ScalePanel :recipe="recipe" @pour="pour" />
      <div>
        <h2 class="pb-2">Versions</h2>
        <ul class="flex flex-col gap-2">
          <li
            v-for="v in versions"
            :key="v.revision"
            class="flex items-stretch gap-3 bg-white"
            :data-version="v.revision"
          >
            <ColourPatch :hex="v.look.swatch.hex" :name="`Version ${v.revision}`" class="w-10 shrink-0" />
            <div class="min-w-0 flex-1 py-2 leading-tight">
              <p>
                <span class="figure">{{ v.revision }}</span>,
                {{ new Date(v.savedAt).toLocaleString(undefined, { dateStyle: 'medium', timeStyle: 'short' }) }}
                <template v-if="v.note">: {{ v.note }}</template>
              </p>
              <p class="text-slate">{{ v.changed.join('; ') || (v.revision === 1 ? 'The first.' : 'Same doses.') }}</p>
            </div>
            <RouterLink
              v-if="v.revision !== recipe.revision"
              :to="`/beside?one=${recipe.uid}&oneAt=${v.revision}&other=${recipe.uid}`"
              class="link self-center px-3"
              >Beside now</RouterLink
            >
          </li>
        </ul>
      </div>
      <div>
        <h2 class="pb-2">Test batches</h2>
        <BatchList :batches="batches ?? []" />
        <ListMore class="mt-3" :more="more" :reading="reading" @next="next" />
        <p v-if="batches && !batches.length" class="text-slate">
          None yet. After a pour, write down what really went in.
        </p>
      </div>
    </div>
  </section>
  <section v-else-if="error" class="p-8"><ProblemNote :says="error.message" /></section>
</template>
