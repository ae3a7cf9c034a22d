<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { RouterLink, useRouter } from 'vue-router'

import { api, ask, problemOf, type Problem, type Schemas } from '@/api/client'
import ColourPatch from '@/parts/ColourPatch.vue'
import EmptyPlace from '@/parts/EmptyPlace.vue'
import KeepMenu from '@/parts/KeepMenu.vue'
import ListMore from '@/parts/ListMore.vue'
import ListPicker from '@/parts/ListPicker.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import SheetDialog from '@/parts/SheetDialog.vue'
import ToggleChip from '@/parts/ToggleChip.vue'
import { heatedWords } from '@/use/heated'
import { useCups, useLeftovers, useRecipeChoices, useReferences } from '@/use/lists'

// What stayed of every cook: how much, how tired, what it can become.
const router = useRouter()
const client = useQueryClient()
const away = ref(false)
const { items: leftovers, more, reading, next } = useLeftovers(() => away.value)
const keeping = ref(false)
const asking = ref(false)
const open = computed(() => keeping.value || asking.value)
const { items: cups } = useCups()
const { items: recipes } = useRecipeChoices(open)
const { items: references } = useReferences(open)
const whole = computed(() => (leftovers.value ?? []).reduce((sum, l) => sum + l.volume, 0))

const from = ref('')
const sources = computed(() => [
  { key: '', name: 'Choose…' },
  ...(cups.value ?? []).map((c) => ({ key: `cup ${c.uid}`, name: `On the bench: ${c.name}` })),
  ...(recipes.value ?? []).map((r) => ({ key: `recipe ${r.uid}`, name: `Taken to be of: ${r.name}` })),
  ...(references.value ?? []).flatMap((r) =>
    [...new Set(r.pins.map((p) => p.name))].map((p) => ({
      key: `reference ${r.uid} ${p}`,
      name: `Guessed by its colour: ${r.name}, ${p}`,
    })),
  ),
])
const name = ref('')
const volume = ref('')
const heats = ref('1')
const problem = ref<Problem>()
const busy = ref(false)
async function keep() {
  busy.value = true
  problem.value = undefined
  const [kind, uid, ...part] = from.value.split(' ')
  try {
    const made = await ask(
      api.POST('/leftovers', {
        body: {
          ...(kind && uid ? { [kind]: uid } : {}),
          ...(part.length ? { part: part.join(' ') } : {}),
          name: name.value,
          volume: volume.value,
          heats: Number(heats.value) || 0,
        },
      }),
    )
    await client.invalidateQueries()
    await router.push(`/leftovers/${made.uid}`)
  } catch (e) {
    problem.value = problemOf(e)
  } finally {
    busy.value = false
  }
}

const aim = ref('')
const aims = computed(() => [
  ...(references.value ?? []).flatMap((r) =>
    [...new Set(r.pins.map((p) => p.name))].map((p) => ({ key: `reference ${r.uid} ${p}`, name: `${r.name}: ${p}` })),
  ),
  ...(recipes.value ?? []).map((r) => ({ key: `recipe ${r.uid}`, name: `Recipe: ${r.name}` })),
])
const found = ref<{ name: string; target: Schemas['Swatch']; list: Schemas['LeftoverFor'][] }>()
const aimed = computed<Schemas['LeftoverAim']>(() => {
  const [kind, uid, ...part] = aim.value.split(' ')
  return kind === 'reference' ? { reference: uid!, part: part.join(' ') } : kind ? { recipe: uid! } : {}
})
async function find() {
  busy.value = true
  problem.value = undefined
  try {
    found.value = await ask(api.POST('/leftovers/for', { body: aimed.value }))
  } catch (e) {
    problem.value = problemOf(e)
  } finally {
    busy.value = false
  }
}
async function use(uid: string) {
  const l = leftovers.value?.find((x) => x.uid === uid)
  problem.value = undefined
  try {
    const { cup } = await ask(
      api.POST('/leftovers/{leftover}/use', {
        params: { path: { leftover: uid } },
        body: { seen: l?.revision ?? 0, volume: '', for: aimed.value },
      }),
    )
    await client.invalidateQueries()
    await router.push(`/bench/${cup}`)
  } catch (e) {
    problem.value = problemOf(e)
  }
}
</script>

<template>
  <section class="mx-auto w-full max-w-6xl p-4">
    <div class="flex flex-wrap items-center gap-3 pb-4">
      <h1 class="mr-auto">
        Leftovers <span v-if="leftovers?.length" class="figure font-normal text-slate">{{ whole.toFixed(0) }} ml</span>
      </h1>
      <ToggleChip :on="away" @click="away = !away">Used up or put away</ToggleChip>
      <RouterLink to="/pours" class="button">Pour</RouterLink>
      <button type="button" class="button" @click="asking = true">What will do as…?</button>
      <button type="button" class="button button-main" @click="keeping = true">Keep some</button>
    </div>
    <p v-if="leftovers && !leftovers.length && away" class="text-lg">Nothing was used up yet.</p>
    <EmptyPlace v-else-if="leftovers && !leftovers.length" picture="near">
      Nothing is kept. What stays of a run comes here by itself; the rest of a cup on the bench is kept by hand.
    </EmptyPlace>
    <ul class="grid gap-4 sm:grid-cols-2 lg:grid-cols-3">
      <li v-for="l in leftovers" :key="l.uid" class="relative flex bg-white" data-testid="leftover">
        <RouterLink :to="`/leftovers/${l.uid}`" class="flex min-w-0 flex-1">
          <ColourPatch :hex="l.look.hex" :name="l.name" class="w-24 shrink-0" />
          <div class="min-w-0 flex-1 p-3 pb-12">
            <h2 class="leading-tight">{{ l.name }}</h2>
            <p class="figure text-2xl font-semibold">{{ l.volume.toFixed(0) }} ml</p>
            <p class="text-slate">{{ heatedWords(l.heatsMost) }}, since {{ l.day }}</p>
            <p>{{ l.tired }}</p>
          </div>
        </RouterLink>
        <KeepMenu class="absolute right-2 bottom-2" what="leftover" :uid="l.uid" :name="l.name" :kept="l.kept" right />
      </li>
    </ul>
    <ListMore class="mt-4" :more="more" :reading="reading" @next="next" />

    <SheetDialog v-if="keeping" title="Keep some" @close="keeping = false">
      <form class="mt-4 flex flex-col gap-4" @submit.prevent="keep">
        <div>
          <span>What</span>
          <ListPicker v-model="from" label="What is kept" :options="sources" />
        </div>
        <label class="block"
          >What you call it<input
            v-model="name"
            class="field"
            type="text"
            autocomplete="off"
            placeholder="Its own name"
        /></label>
        <div v-if="from && !from.startsWith('cup ')" class="flex gap-4">
          <label class="flex-1"
            >How much<input v-model="volume" class="field figure" type="text" placeholder="130 ml"
          /></label>
          <label class="flex-1"
            >Heated so often<input v-model="heats" class="field figure" type="text" inputmode="numeric"
          /></label>
        </div>
        <ProblemNote :says="problem?.message" />
        <div class="flex gap-3">
          <button type="submit" class="button button-main" :disabled="busy || !from">Keep it</button>
          <button type="button" class="button" @click="keeping = false">Leave it</button>
        </div>
      </form>
    </SheetDialog>

    <SheetDialog v-if="asking" wide title="What will do as…?" @close="asking = false">
      <form class="mt-4 flex flex-wrap items-center gap-3" @submit.prevent="find">
        <ListPicker
          v-model="aim"
          label="What it is to become"
          :options="[{ key: '', name: 'A target or a recipe…' }, ...aims]"
          class="min-w-64 flex-1"
        />
        <button type="submit" class="button button-main" :disabled="busy || !aim">
          {{ busy ? 'Looking…' : 'Look' }}
        </button>
      </form>
      <ProblemNote class="mt-3" :says="problem?.message" />
      <div v-if="found" class="mt-4 flex flex-col gap-3">
        <p v-if="!found.list.length">There is no leftover to look at.</p>
        <div
          v-for="f in found.list"
          :key="f.uid"
          class="flex flex-wrap items-stretch gap-4 bg-mist"
          data-testid="will-do"
        >
          <span class="surround flex h-24 w-48">
            <ColourPatch :hex="f.look.hex" name="As it is" class="flex-1" />
            <ColourPatch :hex="f.after.hex" name="After what goes in" class="flex-1" />
            <ColourPatch :hex="found.target.hex" :name="found.name" class="flex-1" />
          </span>
          <div class="min-w-64 flex-1 py-2">
            <p class="font-semibold">
              {{ f.name }}, <span class="figure">{{ f.volume.toFixed(0) }} ml</span>
            </p>
            <p>{{ f.says }}</p>
            <p class="text-slate">{{ f.tired }}</p>
          </div>
          <button type="button" class="button m-3 self-center" @click="use(f.uid)">On the bench</button>
        </div>
        <p v-if="found.list.length" class="text-slate">
          As it is, with what goes in, and what is sought: {{ found.name }}.
        </p>
      </div>
    </SheetDialog>
  </section>
</template>
