<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'

import { api, ask, Problem, problemOf, type PhotoInfo } from '@/api/client'
import ListPicker from '@/parts/ListPicker.vue'
import PhotoDrop from '@/parts/PhotoDrop.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import ToggleChip from '@/parts/ToggleChip.vue'
import { useShelf } from '@/use/shop'

// Records what really went into a batch, addition by addition. What is entered is kept on this device until it is recorded.
interface Draft {
  pouredOn: string
  volume: string
  verdict: string
  rested: string
  restedUnit: 'hours' | 'days'
  photo: string
  unknown: boolean
  additions: Record<string, string>[]
  extra: string[]
}

const route = useRoute()
const router = useRouter()
const client = useQueryClient()
const { bottles, byUID, nameOf } = useShelf()
const uid = computed(() => (route.params.recipe as string) || '')
const projectUID = computed(() => (route.query.project as string) || '')
const part = computed(() => (route.query.part as string) || '')
const { data: recipe, error } = useQuery({
  queryKey: ['recipes', uid],
  queryFn: () => ask(api.GET('/recipes/{recipe}', { params: { path: { recipe: uid.value } } })),
  enabled: computed(() => !!uid.value),
})
const { data: project, error: projectError } = useQuery({
  queryKey: ['projects', projectUID],
  queryFn: () => ask(api.GET('/projects/{project}', { params: { path: { project: projectUID.value } } })),
  enabled: computed(() => !!projectUID.value),
})
// What it was poured after: a recipe, or a part of a project.
const after = computed(() => recipe.value ?? (uid.value ? undefined : project.value))
const key = computed(() => `batch:${uid.value || `${projectUID.value}:${part.value}`}`)
const today = () => new Date(Date.now() - new Date().getTimezoneOffset() * 60_000).toISOString().slice(0, 10)
const fresh = (): Draft => ({
  pouredOn: today(),
  volume: '',
  verdict: '',
  rested: '24',
  restedUnit: 'hours',
  photo: '',
  unknown: false,
  additions: [{}],
  extra: [],
})
type Kept = Partial<Draft> & { goes?: Draft['additions'] } // as additions were called in drafts of before
const { goes, ...kept } = JSON.parse(localStorage.getItem(key.value) ?? '{}') as Kept
const draft = ref<Draft>({ ...fresh(), ...(goes && { additions: goes }), ...kept })
watch(draft, (d) => localStorage.setItem(key.value, JSON.stringify(d)), { deep: true })
watch(
  after,
  (r) => {
    if (r && !draft.value.volume) draft.value.volume = r.volume.typed
  },
  { immediate: true },
)

const rows = computed(() => [...(recipe.value?.doses.map((d) => d.material) ?? []), ...draft.value.extra])
const others = computed(() => [
  { key: '', name: 'Something else went in…' },
  ...bottles.value
    .filter((b) => !b.plastisol && !rows.value.includes(b.uid))
    .map((b) => ({ key: b.uid, name: b.name })),
])
const another = computed({ get: () => '', set: (m) => m && draft.value.extra.push(m) })

const body = computed(() => ({
  ...(recipe.value && { recipe: uid.value, revision: recipe.value.revision }),
  ...(projectUID.value && { project: projectUID.value, part: part.value }),
  plastisol: after.value?.plastisol ?? '',
  pouredOn: draft.value.pouredOn,
  volume: draft.value.volume,
  verdict: draft.value.verdict,
  rested: `${draft.value.rested} ${draft.value.restedUnit}`,
  photo: draft.value.photo,
  unknown: draft.value.unknown,
  additions: (draft.value.unknown ? [] : draft.value.additions)
    .map((g) => ({
      doses: rows.value.filter((m) => g[m]?.trim()).map((m) => ({ material: m, typed: g[m]!.trim() })),
    }))
    .filter((g) => g.doses.length),
}))

// The sum and what it is predicted to look like come from the same rules that will record it.
const { data: preview, error: previewError } = useQuery({
  queryKey: ['batch-preview', body],
  queryFn: () => ask(api.POST('/batches/preview', { body: body.value })),
  enabled: computed(() => !!after.value),
  retry: false,
  placeholderData: (was) => was,
})
const problem = ref<Problem>()
const slip = computed(() => problem.value ?? (previewError.value instanceof Problem ? previewError.value : undefined))
const saysAt = (field: string) => (slip.value?.field === field ? slip.value.message : undefined)
const elsewhere = computed(() =>
  slip.value && !['volume', 'pouredOn', 'rested', 'verdict'].includes(slip.value.field)
    ? slip.value.message
    : undefined,
)
const sumOf = (m: string) => (previewError.value ? '' : (preview.value?.sum.find((d) => d.material === m)?.typed ?? ''))

function photo(p: PhotoInfo) {
  draft.value.photo = p.uid
}
// Enter ends an entry here; it must not record a batch that is half written down.
function stay(e: KeyboardEvent) {
  if (e.target instanceof HTMLInputElement) {
    e.preventDefault()
    e.target.blur()
  }
}
async function record() {
  problem.value = undefined
  try {
    await ask(api.POST('/batches', { body: body.value }))
    localStorage.removeItem(key.value)
    draft.value = fresh()
    localStorage.removeItem(key.value)
    await client.invalidateQueries({ queryKey: ['batches'] })
    const was = key.value
    await client.invalidateQueries({ queryKey: ['projects'] })
    await router.push(projectUID.value ? `/projects/${projectUID.value}` : `/recipes/${uid.value}`)
    localStorage.removeItem(was)
  } catch (e) {
    problem.value = problemOf(e)
  }
}
</script>

<template>
  <section v-if="after" class="mx-auto w-full max-w-5xl p-4">
    <h1>A test batch {{ recipe ? 'of' : 'for' }} {{ after.name }}</h1>
    <p class="pb-4 text-slate">
      {{ recipe ? `Version ${recipe.revision}.` : `${part}.` }} Write down what really went in, addition by addition; it
      is summed for you.
    </p>
    <form class="flex flex-col gap-6" @submit.prevent="record" @keydown.enter="stay">
      <div class="grid gap-4 sm:grid-cols-3">
        <label class="block">
          <span>Poured on</span>
          <input v-model="draft.pouredOn" type="date" class="field figure" :aria-invalid="!!saysAt('pouredOn')" />
          <ProblemNote :says="saysAt('pouredOn')" />
        </label>
        <label class="block">
          <span>Plastisol, cold</span>
          <input v-model.lazy="draft.volume" type="text" class="field figure" :aria-invalid="!!saysAt('volume')" />
          <ProblemNote :says="saysAt('volume')" />
        </label>
        <div>
          <label class="block">
            <span>Rested before it was judged</span>
            <span class="flex gap-2">
              <input
                v-model="draft.rested"
                type="text"
                inputmode="decimal"
                class="field figure"
                :aria-invalid="!!saysAt('rested')"
                aria-label="Rested for"
              />
              <ListPicker
                v-model="draft.restedUnit"
                label="Unit of rest"
                class="w-36"
                :options="[
                  { key: 'hours', name: 'hours' },
                  { key: 'days', name: 'days' },
                ]"
              />
            </span>
          </label>
          <ProblemNote :says="saysAt('rested')" />
        </div>
      </div>

      <div>
        <ToggleChip :on="draft.unknown" @click="draft.unknown = !draft.unknown">Nobody knows what went in</ToggleChip>
        <p v-if="draft.unknown" class="pt-2 text-slate">
          An earlier attempt of which only the bait is left: it stands in the trail as it was read, and teaches nothing.
        </p>
      </div>
      <div v-if="!draft.unknown" class="overflow-x-auto">
        <table class="w-full bg-white text-left">
          <thead>
            <tr class="border-b border-haze">
              <th class="px-3 py-2 font-medium">Bottle</th>
              <th v-if="recipe" class="px-3 py-2 font-medium">Recipe, in {{ recipe.volume.typed }}</th>
              <th v-for="(_, i) in draft.additions" :key="i" class="px-3 py-2 font-medium">Addition {{ i + 1 }}</th>
              <th class="px-3 py-2 text-right font-medium">All in all</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="m in rows" :key="m" class="border-b border-haze">
              <td class="px-3 py-1">{{ nameOf(m) }}</td>
              <td v-if="recipe" class="figure px-3 py-1">
                {{ recipe.doses.find((d) => d.material === m)?.typed ?? '–' }}
              </td>
              <td v-for="(g, i) in draft.additions" :key="i" class="px-2 py-1">
                <input
                  v-model.lazy="g[m]"
                  type="text"
                  class="field figure min-w-24"
                  :placeholder="byUID.get(m)?.step ?? ''"
                  autocomplete="off"
                  :aria-label="`Addition ${i + 1}, ${nameOf(m)}`"
                />
              </td>
              <td class="figure px-3 py-1 text-right text-lg" :data-sum="m">{{ sumOf(m) }}</td>
            </tr>
          </tbody>
        </table>
      </div>
      <ProblemNote :says="elsewhere" />
      <div v-if="!draft.unknown" class="flex flex-wrap gap-3">
        <button type="button" class="button" :disabled="draft.additions.length >= 30" @click="draft.additions.push({})">
          Another addition
        </button>
        <ListPicker v-model="another" label="Another bottle" class="w-72" :options="others" />
      </div>
      <p v-if="preview?.sum.length && preview.drift && !previewError" data-testid="drift">
        Predicted beside the recipe: {{ preview.drift.nearness
        }}<template v-if="preview.drift.words">, {{ preview.drift.words }}</template
        >. ΔE00 <span class="figure">{{ preview.drift.deltaE00.toFixed(1) }}</span>
      </p>

      <label class="block">
        <span>Verdict, in your own words</span>
        <textarea v-model="draft.verdict" rows="2" class="field py-2" :aria-invalid="!!saysAt('verdict')" />
        <ProblemNote :says="saysAt('verdict')" />
      </label>
      <div class="grid items-start gap-4 sm:grid-cols-2">
        <PhotoDrop word="Add a photo of the batch" @photo="photo" />
        <img
          v-if="draft.photo"
          :src="`/api/v1/photos/${draft.photo}`"
          alt="Photo of this batch"
          class="h-40 object-contain"
          data-testid="batch-photo"
        />
      </div>
      <div><button type="submit" class="button button-main">Record it</button></div>
    </form>
  </section>
  <section v-else-if="error || projectError" class="p-8">
    <ProblemNote :says="(error ?? projectError)?.message" />
  </section>
  <section v-else-if="!uid && !projectUID" class="p-8">
    <p class="text-lg">
      A batch is poured from a recipe, or for a project.
      <RouterLink to="/recipes" class="link">Choose a recipe</RouterLink> or
      <RouterLink to="/projects" class="link">a project</RouterLink>.
    </p>
  </section>
</template>
