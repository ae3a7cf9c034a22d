<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'

import { api, ask, problemOf, type Problem } from '@/api/client'
import ColourPatch from '@/parts/ColourPatch.vue'
import EmptyPlace from '@/parts/EmptyPlace.vue'
import KeepMenu from '@/parts/KeepMenu.vue'
import ListMore from '@/parts/ListMore.vue'
import ListPicker from '@/parts/ListPicker.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import SheetDialog from '@/parts/SheetDialog.vue'
import ToggleChip from '@/parts/ToggleChip.vue'
import { useBaits, useCups, usePours, useRecipeChoices } from '@/use/lists'
import { useShapes } from '@/use/shop'

import HowMany from './HowMany.vue'

// What is to be poured, what is being poured, and what was.
const route = useRoute()
const router = useRouter()
const client = useQueryClient()
const away = ref(false)
const { items: pours, more, reading, next } = usePours(() => away.value)
const planning = ref(!!(route.query.bait || route.query.recipe || route.query.cup))
const counting = ref(false)
const asking = computed(() => planning.value || counting.value)
const { items: baits } = useBaits(asking)
const { items: recipes } = useRecipeChoices(asking)
const { items: cups } = useCups()
const { data: shapes } = useShapes()
const from = ref('')
const choices = computed(() => [
  ...(baits.value ?? []).map((b) => ({ key: `bait ${b.uid}`, name: `Bait: ${b.name}` })),
  ...(recipes.value ?? []).map((r) => ({ key: `recipe ${r.uid}`, name: `Recipe: ${r.name}` })),
  ...(cups.value ?? []).map((c) => ({ key: `cup ${c.uid}`, name: `On the bench: ${c.name}` })),
])
const told = ['bait', 'recipe', 'cup'].find((k) => route.query[k])
if (told) from.value = `${told} ${route.query[told] as string}`
watch(choices, (all) => {
  const loaded = baits.value && recipes.value && cups.value
  if (loaded && !all.some((c) => c.key === from.value)) from.value = all[0]?.key ?? ''
})
const mold = ref('')
const molds = computed(() => [
  { key: '', name: from.value.startsWith('bait ') ? 'The bait’s own mold' : 'The usual one' },
  ...(shapes.value ?? []),
])
const count = ref('16')
const copies = ref('1')
const problem = ref<Problem>()
const busy = ref(false)
const source = computed(() => {
  const [kind, uid] = from.value.split(' ')
  return kind && uid ? { [kind]: uid } : {}
})

async function plan() {
  busy.value = true
  problem.value = undefined
  try {
    const whole = (typed: string) => (/^\s*\d+\s*$/.test(typed) ? Number(typed) : -1)
    const made = await ask(
      api.POST('/pours', {
        body: {
          ...source.value,
          mold: mold.value,
          count: whole(count.value),
          copies: Math.max(0, whole(copies.value)),
        },
      }),
    )
    await client.invalidateQueries({ queryKey: ['pours'] })
    await router.push(`/pours/${made.uid}`)
  } catch (e) {
    problem.value = problemOf(e)
  } finally {
    busy.value = false
  }
}
const states = { planned: 'planned', running: 'being poured', done: 'done' }
</script>

<template>
  <section class="mx-auto w-full max-w-6xl p-4">
    <div class="flex flex-wrap items-center gap-3 pb-4">
      <h1 class="mr-auto">Pour</h1>
      <ToggleChip :on="away" @click="away = !away">What was put away</ToggleChip>
      <RouterLink to="/log" class="button">Logbook</RouterLink>
      <RouterLink to="/leftovers" class="button">Leftovers</RouterLink>
      <RouterLink to="/packs" class="button">Packs</RouterLink>
      <RouterLink to="/kit" class="button">Kit</RouterLink>
      <button type="button" class="button" @click="counting = true">How many does a cup give?</button>
      <button type="button" class="button button-main" @click="planning = true">Plan a pour</button>
    </div>
    <p v-if="pours && !pours.length && away" class="text-lg">Nothing was put away.</p>
    <EmptyPlace v-else-if="pours && !pours.length" picture="recipes">
      Nothing planned yet. Say what and how many: cups, drops, injector loads and minutes are worked out, and the run is
      followed step by step.
    </EmptyPlace>
    <ul class="flex flex-col gap-2">
      <li v-for="p in pours" :key="p.uid" class="flex items-center gap-4 bg-white pr-3" data-testid="pour">
        <RouterLink
          :to="p.state === 'running' ? `/pours/${p.uid}/run` : `/pours/${p.uid}`"
          class="flex min-h-16 flex-1 items-center gap-4"
        >
          <span class="flex h-16 w-24 shrink-0">
            <ColourPatch
              v-for="(s, i) in p.cups"
              :key="i"
              :hex="s.hex"
              :name="p.order.cups[i]?.name ?? ''"
              class="flex-1"
            />
          </span>
          <span class="min-w-0 py-2">
            <span class="block text-lg font-semibold">{{ p.order.name }}</span>
            <span class="block text-slate"
              >{{ p.asked }} baits<template v-if="p.outcome">, {{ p.outcome.good }} good</template> ·
              {{ states[p.state] }} ·
              {{
                new Date(p.outcome?.atMS || p.touchedAt).toLocaleDateString('en-GB', { day: 'numeric', month: 'long' })
              }}</span
            >
          </span>
          <span v-if="p.state === 'running'" class="ml-auto rounded-full bg-ink px-3 py-1 text-white"
            >On the bench</span
          >
        </RouterLink>
        <KeepMenu what="pour" :uid="p.uid" :name="p.order.name" :kept="p.kept" right />
      </li>
    </ul>
    <ListMore class="mt-4" :more="more" :reading="reading" @next="next" />

    <SheetDialog v-if="planning" title="Plan a pour" @close="planning = false">
      <form class="mt-4 flex flex-col gap-4" @submit.prevent="plan">
        <div>
          <span>What</span>
          <ListPicker v-model="from" label="What is poured" :options="choices" />
        </div>
        <div>
          <span>Mold</span>
          <ListPicker v-model="mold" label="Mold" :options="molds" />
        </div>
        <div class="flex gap-4">
          <label class="flex-1"
            >How many baits<input
              v-model="count"
              type="text"
              inputmode="numeric"
              class="field figure"
              :aria-invalid="!!problem?.field.endsWith('count')"
          /></label>
          <label class="flex-1"
            >Molds of this kind<input v-model="copies" type="text" inputmode="numeric" class="field figure"
          /></label>
        </div>
        <ProblemNote :says="problem?.message" />
        <div class="flex gap-3">
          <button type="submit" class="button button-main" :disabled="busy || !from">Plan it</button>
          <button type="button" class="button" @click="planning = false">Leave it</button>
        </div>
      </form>
    </SheetDialog>
    <HowMany v-if="counting" :choices="choices" @close="counting = false" />
  </section>
</template>
