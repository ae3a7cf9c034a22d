<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { RouterLink, useRoute } from 'vue-router'

import { api, ask, problemOf, type MoldPage } from '@/api/client'
import BaitPatch from '@/parts/BaitPatch.vue'
import FieldRow from '@/parts/FieldRow.vue'
import ListPicker from '@/parts/ListPicker.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import ToggleChip from '@/parts/ToggleChip.vue'
import TypedField from '@/parts/TypedField.vue'
import { thickness } from '@/use/amount'
import type { FieldProblem } from '@/use/bait'
import { groups } from '@/use/measures'

import SplitFit from './SplitFit.vue'

// A mold with every measure of it.
const route = useRoute()
const client = useQueryClient()
const uid = computed(() => route.params.mold as string)
const path = computed(() => ({ mold: uid.value }))
const queryKey = ['mold', uid]
const { data: mold, error } = useQuery({
  queryKey,
  queryFn: () => ask(api.GET('/molds/{mold}', { params: { path: path.value } })),
})
const problem = ref<FieldProblem>()

function keep(m: MoldPage) {
  client.setQueryData(['mold', uid.value], m)
  void client.invalidateQueries({ queryKey: ['molds'] })
  void client.invalidateQueries({ queryKey: ['shapes'] })
}
// One change after the other: each is made on what the one before it left.
let last: Promise<void> = Promise.resolve()
function set(field: string, typed: string) {
  last = last.then(() => change(field, typed))
  return last
}
async function change(field: string, typed: string) {
  try {
    keep(
      await ask(
        api.PATCH('/molds/{mold}', {
          params: { path: path.value },
          body: { field, typed, seen: mold.value!.revision },
        }),
      ),
    )
    problem.value = undefined
  } catch (e) {
    problem.value = Object.assign(problemOf(e), { at: field })
    if (problem.value.status === 409) await client.invalidateQueries({ queryKey: ['mold'] })
  }
}
const large = computed(() => [...(mold.value?.views ?? [])].sort((a, b) => b.widthPX - a.widthPX)[0])
const small = computed(() => mold.value?.views.filter((v) => v !== large.value))
const says = (...keys: string[]) => (keys.includes(problem.value?.at ?? '') ? problem.value!.message : undefined)
const pick = (key: 'shape' | 'lies' | 'material') =>
  computed({ get: () => mold.value?.[key] ?? '', set: (v: string) => void set(key, v) })
const shape = pick('shape')
const lies = pick('lies')
const material = pick('material')
const grades = [
  { key: 'fits', name: 'fits' },
  { key: 'folds', name: 'folds through' },
  { key: 'blocks', name: 'will block' },
  { key: '', name: 'as reckoned' },
]
const origins: Record<string, string> = {
  typical: 'typical, until you know better',
  fitted: 'fitted',
  'by hand': 'set by you',
}
</script>

<template>
  <section v-if="mold" class="grid flex-1 grid-cols-1 lg:grid-cols-[1fr_27rem]">
    <div class="surround flex min-w-0 flex-col gap-4 p-4">
      <div class="flex flex-wrap items-center gap-3">
        <h1 class="mr-auto min-w-0">{{ mold.name }}</h1>
        <a class="button" :href="`/api/v1/molds/${mold.uid}/stl`" download>Save it as an STL</a>
        <RouterLink to="/molds" class="button">All molds</RouterLink>
      </div>
      <BaitPatch :png="large!.png" :name="large!.name" />
      <div class="grid grid-cols-2 gap-4">
        <BaitPatch v-for="v in small" :key="v.key" :png="v.png" :name="v.name" />
      </div>
      <p>
        <span class="figure">{{ mold.card.volumeML.toFixed(2) }} ml</span> a bait,
        <span class="figure">{{ mold.shotML.toFixed(0) }} ml</span> a filling,
        {{ thickness(mold.card.thickestMM, mold.card.thinnestMM) }}. Drawn in plain smoke.
      </p>
      <div class="panel p-4">
        <h2>Flake and gate</h2>
        <ul class="columns-1 gap-6 md:columns-2">
          <li v-for="f in mold.flakes" :key="f.material" class="mb-2 break-inside-avoid" :data-flake="f.material">
            <div class="flex flex-wrap items-center gap-2">
              <span class="min-w-28 flex-1 leading-tight">{{ f.name }}{{ f.own ? ', by you' : '' }}</span>
              <ListPicker
                :model-value="f.grade"
                :label="`How ${f.name} goes through`"
                :options="grades"
                class="w-40"
                @update:model-value="(g: string) => set(`passes.${f.material}`, g)"
              />
            </div>
            <p v-if="f.section" class="leading-tight text-slate">{{ f.section }}.</p>
          </li>
        </ul>
      </div>
    </div>
    <div class="flex flex-col gap-3 border-l border-haze bg-mist p-4">
      <TypedField label="Name" :value="mold.name" :says="says('name')" @typed="(t) => set('name', t)" />
      <ProblemNote :says="says('name')" />
      <ListPicker v-model="shape" label="Shape" :options="mold.shapeChoices" />
      <div v-if="mold.body" class="flex flex-wrap gap-2">
        <button type="button" class="button px-3" @click="set('body.roll', 'on')">Roll it a quarter</button>
        <button type="button" class="button px-3" @click="set('body.tail', 'on')">Nose at the other end</button>
        <ToggleChip :on="mold.body.lying" @click="set('body.lying', String(!mold.body.lying))"
          >Looked at from above</ToggleChip
        >
      </div>
      <div class="flex flex-wrap gap-2">
        <ToggleChip :on="!mold.poured" @click="set('poured', 'false')">Shot</ToggleChip>
        <ToggleChip :on="mold.poured" @click="set('poured', 'true')">Open pour</ToggleChip>
        <ListPicker v-model="material" label="Material" :options="mold.materialChoices" class="flex-1" />
      </div>
      <ListPicker v-model="lies" label="Where the back lies" :options="mold.lieChoices" />
      <ProblemNote :says="says('shape', 'lies', 'poured', 'material', 'slot')" />
      <section v-for="g in mold.groups" :key="g.key" class="flex flex-col">
        <h2>{{ groups[g.key] }}</h2>
        <p v-if="g.key === 'split'" class="text-slate">
          {{ origins[mold.split.origin] }}{{ mold.split.fitted ? `: ${mold.split.fitted}` : '' }}
        </p>
        <FieldRow v-for="f in g.fields" :key="f.key" :field="f" :problem="problem" @typed="set" />
      </section>
      <div class="flex flex-wrap gap-2">
        <button type="button" class="button" @click="set('slot', mold.slots?.length ? 'remove' : 'add')">
          {{ mold.slots?.length ? 'No hook slot' : 'Add a hook slot' }}
        </button>
        <ToggleChip
          v-if="mold.slots?.length"
          :on="mold.slots[0]!.inBack"
          @click="set('slots.0.inBack', String(!mold.slots[0]!.inBack))"
          >Slot in the back</ToggleChip
        >
        <button type="button" class="button" @click="set('retired', String(!mold.retired))">
          {{ mold.retired ? 'Take it out again' : 'Put it away' }}
        </button>
      </div>
      <SplitFit v-if="mold.shape !== 'step-chip'" :mold="mold" @fitted="keep" />
      <p class="text-slate">Hot plastisol burns and sticks: gloves, sleeves, eye protection. Water in a mold spits.</p>
    </div>
  </section>
  <section v-else class="surround flex-1 p-4"><ProblemNote class="text-ink" :says="error?.message" /></section>
</template>
