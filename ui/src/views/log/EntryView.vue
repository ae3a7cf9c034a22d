<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'

import { api, ask, problemOf, type Problem, type LogEntry } from '@/api/client'
import ColourPatch from '@/parts/ColourPatch.vue'
import KeepMenu from '@/parts/KeepMenu.vue'
import ListPicker from '@/parts/ListPicker.vue'
import PhotoDrop from '@/parts/PhotoDrop.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import { useRecipeChoices } from '@/use/lists'

// An entry: what was poured or fished, in one's own words. It leads back to its run.
const route = useRoute()
const router = useRouter()
const client = useQueryClient()
const uid = computed(() => route.params.entry as string)
const fresh = computed(() => uid.value === 'new')
const { data: entry, error } = useQuery({
  queryKey: ['log', uid],
  queryFn: () => ask(api.GET('/log/{entry}', { params: { path: { entry: uid.value } } })),
  enabled: computed(() => !fresh.value),
})
const empty = () => ({
  title: '',
  day: new Date().toISOString().slice(0, 10),
  words: '',
  tags: '',
  water: '',
  light: '',
  forage: '',
  rig: '',
  good: '0',
  spoiled: '0',
  caught: '0',
  sold: '0',
})
const form = ref(empty())
const photo = ref('')
const recipe = ref('')
const { items: recipes } = useRecipeChoices(true)
const recipeChoices = computed(() => [
  { key: '', name: 'no recipe of yours' },
  ...(recipes.value ?? []).map((r) => ({ key: r.uid, name: r.name })),
])
const touched = ref(false)
function fill(e: LogEntry) {
  photo.value = e.photo ?? ''
  recipe.value = e.recipe ?? ''
  form.value = {
    title: e.title,
    day: e.day,
    words: e.words ?? '',
    tags: e.tags.join(', '),
    water: e.water ?? '',
    light: e.light ?? '',
    forage: e.forage ?? '',
    rig: e.rig ?? '',
    good: String(e.good),
    spoiled: String(e.spoiled),
    caught: String(e.caught),
    sold: String(e.sold),
  }
}
watch(
  entry,
  (e) => {
    if (e && !touched.value) fill(e)
  },
  { immediate: true },
)
watch(uid, () => {
  touched.value = false
  form.value = empty()
  photo.value = recipe.value = ''
  if (entry.value) fill(entry.value)
})
const problem = ref<Problem>()
const kept = ref(false)
function dirty() {
  touched.value = true
  kept.value = false
}
const whole = (t: string) => (/^\s*\d+\s*$/.test(t) ? Number(t) : -1)
async function keep() {
  problem.value = undefined
  kept.value = false
  const f = form.value
  const body = {
    title: f.title,
    day: f.day,
    words: f.words,
    tags: f.tags.split(/[,\s]*,[,\s]*/).filter(Boolean),
    water: f.water,
    light: f.light,
    forage: f.forage,
    rig: f.rig,
    good: whole(f.good),
    spoiled: whole(f.spoiled),
    caught: whole(f.caught),
    sold: whole(f.sold),
    ...(photo.value ? { photo: photo.value } : {}),
    ...(recipe.value ? { recipe: recipe.value } : {}),
    ...(entry.value?.colour && recipe.value === (entry.value.recipe ?? '') ? { colour: entry.value.colour } : {}),
  }
  try {
    const got = fresh.value
      ? await ask(api.POST('/log', { body }))
      : await ask(
          api.PUT('/log/{entry}', {
            params: { path: { entry: uid.value } },
            body: { ...body, seen: entry.value!.revision },
          }),
        )
    touched.value = false
    client.setQueryData(['log', got.uid], got)
    await client.invalidateQueries({ queryKey: ['log'] })
    kept.value = true
    if (fresh.value) await router.replace(`/log/${got.uid}`)
  } catch (e) {
    problem.value = problemOf(e)
    if (problem.value.status === 409) await client.invalidateQueries({ queryKey: ['log', uid.value] })
  }
}
// Back to the work: the recipe onto the bench, the photo as a target, the colour to be matched.
async function lead(work: () => Promise<string>) {
  problem.value = undefined
  try {
    const to = await work()
    await client.invalidateQueries()
    await router.push(to)
  } catch (e) {
    problem.value = problemOf(e)
  }
}
const toBench = () =>
  lead(async () => {
    const cup = await ask(api.POST('/cups', { body: { recipe: entry.value!.recipe! } }))
    return `/bench/${cup.uid}`
  })
const toTarget = () =>
  lead(async () => {
    const made = await ask(api.POST('/references', { body: { name: entry.value!.title, photo: photo.value } }))
    return `/references/${made.uid}`
  })
const matching = computed(() => {
  const c = entry.value?.colour
  return c
    ? {
        path: '/match',
        query: {
          lab: [c.L, c.a, c.b].map((v) => v.toFixed(2)).join(','),
          hex: entry.value!.look?.hex ?? '',
          of: entry.value!.title,
        },
      }
    : undefined
})
const fields = [
  { key: 'water' as const, label: 'Water', hint: 'clear, green, stained, muddy' },
  { key: 'light' as const, label: 'Light', hint: 'bright, overcast, dusk' },
  { key: 'forage' as const, label: 'What they feed on', hint: 'herring, goby' },
  { key: 'rig' as const, label: 'Rig', hint: '8 g, slow' },
]
const counts = [
  { key: 'caught' as const, label: 'Fish' },
  { key: 'good' as const, label: 'Baits poured' },
  { key: 'spoiled' as const, label: 'Spoiled' },
  { key: 'sold' as const, label: 'Packs sold' },
]
</script>

<template>
  <section v-if="fresh || entry" class="mx-auto flex w-full max-w-3xl flex-col gap-4 p-4">
    <p><RouterLink to="/log" class="link">Logbook</RouterLink></p>
    <div class="flex flex-wrap items-center gap-4">
      <ColourPatch v-if="entry?.look" :hex="entry.look.hex" :name="entry.title" class="h-16 w-24" />
      <h1 class="min-w-40 flex-1">{{ fresh ? 'A day at the water' : entry?.title }}</h1>
      <RouterLink v-if="entry?.pour" :to="`/pours/${entry.pour}/run`" class="button">Its run</RouterLink>
      <RouterLink v-if="entry?.pour" :to="`/pours/${entry.pour}`" class="button">Its plan</RouterLink>
      <button v-if="entry?.recipe" type="button" class="button" @click="toBench">On the bench</button>
      <RouterLink v-if="matching" :to="matching" class="button">Match its colour</RouterLink>
      <KeepMenu v-if="entry" what="log" :uid="entry.uid" :name="entry.title" :kept="entry.kept" right />
    </div>
    <form class="flex flex-col gap-4 bg-white p-4" @submit.prevent="keep" @input="dirty">
      <div class="flex flex-wrap gap-4">
        <label class="min-w-56 flex-1"
          >What<input
            v-model="form.title"
            class="field"
            type="text"
            autocomplete="off"
            placeholder="Olive eel by the sluice"
            :aria-invalid="problem?.field === 'title'"
        /></label>
        <label class="w-44"
          >Day<input
            v-model="form.day"
            class="field figure"
            type="text"
            placeholder="2026-03-31"
            :aria-invalid="problem?.field === 'day'"
        /></label>
      </div>
      <div class="grid grid-cols-2 gap-4 sm:grid-cols-4">
        <label v-for="f in fields" :key="f.key"
          >{{ f.label }}<input v-model="form[f.key]" class="field" type="text" :placeholder="f.hint"
        /></label>
      </div>
      <div class="grid grid-cols-2 gap-4 sm:grid-cols-4">
        <label v-for="c in counts" :key="c.key"
          >{{ c.label
          }}<input
            v-model="form[c.key]"
            class="field figure text-xl"
            type="text"
            inputmode="numeric"
            :aria-invalid="problem?.field === c.key"
        /></label>
      </div>
      <div class="flex flex-wrap items-end gap-4">
        <div class="w-72">
          Which colour
          <ListPicker v-model="recipe" label="Which colour" :options="recipeChoices" @update:model-value="dirty" />
        </div>
      </div>
      <div class="flex flex-wrap items-start gap-4">
        <img v-if="photo" :src="`/api/v1/photos/${photo}`" :alt="form.title" class="max-h-64 max-w-full" />
        <PhotoDrop
          v-else
          word="A photo of it"
          @photo="
            (p) => {
              photo = p.uid
              dirty()
            }
          "
        />
        <div v-if="photo" class="flex flex-col gap-2">
          <button v-if="entry" type="button" class="button" @click="toTarget">Make it a target</button>
          <button
            type="button"
            class="button"
            @click="
              () => {
                photo = ''
                dirty()
              }
            "
          >
            Take the photo out
          </button>
        </div>
      </div>
      <label class="block">How it went<textarea v-model="form.words" class="field min-h-28 py-2" /></label>
      <label class="block"
        >Tags, with commas between<input v-model="form.tags" class="field" type="text" placeholder="zander, bridge"
      /></label>
      <ProblemNote :says="problem?.message" />
      <div class="flex items-center gap-3">
        <button type="submit" class="button button-main">Keep it</button>
        <p v-if="kept" role="status">It is kept.</p>
      </div>
    </form>
  </section>
  <section v-else-if="error" class="p-8"><ProblemNote :says="error.message" /></section>
</template>
