<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'

import { api, ask, type BenchState, type Bottle, type Step, type Swapped } from '@/api/client'
import ColourPatch from '@/parts/ColourPatch.vue'
import ListPicker from '@/parts/ListPicker.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import SheetDialog from '@/parts/SheetDialog.vue'
import ToggleChip from '@/parts/ToggleChip.vue'
import { useShapes } from '@/use/shop'

// Another bottle in place of one, an additive besides, or another bait: with the look kept as far as it goes.
export type Swap = { what: 'line'; old: string } | { what: 'additive' } | { what: 'bait'; from: string }
const props = defineProps<{ state: BenchState; shelf: Bottle[]; swap: Swap; bait: string }>()
const emit = defineEmits<{ close: []; step: [step: Step] }>()

const name = (uid: string) => props.shelf.find((b) => b.uid === uid)?.name ?? uid
const old = computed(() => (props.swap.what === 'line' ? props.swap.old : ''))
const { data: shapes } = useShapes()
const keep = ref<'body' | 'fins'>('body')
const keepFlake = ref<'cover' | 'count'>('cover')
const title = computed(
  () =>
    ({
      line: `Something else for ${name(old.value)}`,
      additive: 'The same look with an additive in it',
      bait: 'The same look in another bait',
    })[props.swap.what],
)
const inCup = computed(() => props.state.cup.doses.map((d) => d.material))
const oldKind = computed(() => props.shelf.find((b) => b.uid === old.value)?.kind)
const choices = computed(() => {
  const swap = props.swap
  if (swap.what === 'bait') return (shapes.value ?? []).filter((b) => b.key !== swap.from)
  return props.shelf
    .filter((b) => (swap.what === 'additive' ? !!b.additive : b.kind === oldKind.value && !inCup.value.includes(b.uid)))
    .map((b) => ({ key: b.uid, name: b.name }))
})
const chosen = ref('')
const typed = ref('1/4 cup')
const { data, error } = useQuery({
  queryKey: ['swap', () => props.state.uid, () => props.state.head, () => props.swap, chosen, typed, keep, keepFlake],
  queryFn: () => {
    const path = { cup: props.state.uid }
    const swap = props.swap
    if (swap.what === 'bait')
      return ask(
        api.GET('/cups/{cup}/in-another-bait', {
          params: { path, query: { from: swap.from, to: chosen.value, keep: keep.value } },
        }),
      )
    if (swap.what === 'additive')
      return ask(
        api.GET('/cups/{cup}/with', { params: { path, query: { material: chosen.value, typed: typed.value } } }),
      )
    return ask(
      api.GET('/cups/{cup}/swap', {
        params: { path, query: { old: swap.old, new: chosen.value, keep: keepFlake.value, for: props.bait } },
      }),
    )
  },
  enabled: computed(() => !!chosen.value),
  retry: false,
})
// Salt and glass side by side, for the same amount.
const { data: loads } = useQuery({
  queryKey: ['loads', () => props.state.uid, () => props.state.head, typed],
  queryFn: () =>
    ask(api.GET('/cups/{cup}/loads', { params: { path: { cup: props.state.uid }, query: { typed: typed.value } } })),
  enabled: computed(() => props.swap.what === 'additive' && !!typed.value),
  retry: false,
})
const shows = (s: Swapped) => {
  return s.flakeSeen === undefined ? '–' : `${(100 * s.flakeSeen).toFixed(0)} %`
}
const pick = computed({ get: () => chosen.value, set: (v: string) => (chosen.value = v) })
function take() {
  if (!data.value) return
  emit('step', { kind: 'swap', cup: data.value.cup })
  emit('close')
}
</script>

<template>
  <SheetDialog :title="title" wide @close="emit('close')">
    <div class="mt-4 flex flex-wrap gap-3">
      <ListPicker
        v-model="pick"
        label="Take"
        class="min-w-64 flex-1"
        :options="[{ key: '', name: swap.what === 'bait' ? 'Choose a bait…' : 'Choose from the shelf…' }, ...choices]"
      />
      <template v-if="swap.what === 'bait'">
        <ToggleChip :on="keep === 'body'" @click="keep = 'body'">Keep the body</ToggleChip>
        <ToggleChip :on="keep === 'fins'" @click="keep = 'fins'">Keep the fins</ToggleChip>
      </template>
      <input
        v-if="swap.what === 'additive'"
        v-model.lazy="typed"
        class="field figure w-36!"
        type="text"
        aria-label="How much of it"
      />
    </div>
    <div v-if="oldKind === 'flake'" class="mt-3 flex gap-3">
      <ToggleChip :on="keepFlake === 'cover'" @click="keepFlake = 'cover'">As much to see</ToggleChip>
      <ToggleChip :on="keepFlake === 'count'" @click="keepFlake = 'count'">As many pieces</ToggleChip>
    </div>
    <div v-if="swap.what === 'additive' && loads?.length" class="mt-4 overflow-x-auto" data-testid="loads">
      <table class="w-full text-left">
        <caption class="pb-1 text-left font-semibold">
          {{
            typed
          }}
          of each, the look kept as far as it goes
        </caption>
        <thead class="text-sm">
          <tr class="border-b border-haze">
            <th class="pr-2 font-medium">Load</th>
            <th class="pr-2 font-medium">Body, before and after</th>
            <th class="pr-2 text-right font-medium">ΔE00</th>
            <th class="pr-2 text-right font-medium">Flake seen</th>
            <th class="pr-2 text-right font-medium">By weight</th>
            <th class="pr-2 text-right font-medium">Cup weighs</th>
            <th class="pr-2 text-right font-medium">Strength</th>
            <th class="pr-2 text-right font-medium">Sinks</th>
            <th class="text-right font-medium">Adds</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="l in loads" :key="l.material" class="border-b border-haze" :data-load="l.material">
            <td class="pr-2">
              <button type="button" class="link min-h-11 text-left" @click="pick = l.material">{{ l.name }}</button>
            </td>
            <td class="pr-2">
              <div class="flex h-9 w-24">
                <ColourPatch :hex="l.swapped.before[1]!.swatch.hex" :name="`${l.name}: before`" class="flex-1" />
                <ColourPatch :hex="l.swapped.after[1]!.swatch.hex" :name="`${l.name}: after`" class="flex-1" />
              </div>
            </td>
            <td class="figure pr-2 text-right">{{ l.swapped.deltaE00.toFixed(1) }}</td>
            <td class="figure pr-2 text-right">{{ shows(l.swapped) }}</td>
            <td class="figure pr-2 text-right">{{ l.swapped.is.loadPercent.toFixed(0) }} %</td>
            <td class="figure pr-2 text-right">{{ l.swapped.is.massG.toFixed(0) }} g</td>
            <td class="figure pr-2 text-right">{{ (100 * l.swapped.is.strength).toFixed(0) }} %</td>
            <td class="figure pr-2 text-right">{{ l.swapped.is.sinkFreshCMS.toFixed(0) }} cm/s</td>
            <td class="figure text-right">{{ l.swapped.is.yieldML.toFixed(0) }} ml</td>
          </tr>
        </tbody>
      </table>
    </div>
    <ProblemNote class="mt-3" :says="chosen ? error?.message : undefined" />
    <div v-if="data && !error" class="mt-4 flex flex-col gap-3" data-testid="swapped">
      <p class="text-lg">
        {{ data.nearness }}, ΔE00 <span class="figure">{{ data.deltaE00.toFixed(1) }}</span> over thin and thick, white,
        dark and against the light
      </p>
      <p v-if="data.hold" class="says">{{ data.hold }}</p>
      <div class="surround grid grid-cols-4 gap-2 p-3">
        <div v-for="(b, i) in data.before" :key="b.name">
          <div class="flex h-20">
            <ColourPatch :hex="b.swatch.hex" :name="`Before: ${b.name}`" class="flex-1" />
            <ColourPatch :hex="data.after[i]!.swatch.hex" :name="`After: ${b.name}`" class="flex-1" />
          </div>
          <p class="pt-1 text-sm leading-tight">{{ b.name }}</p>
        </div>
      </div>
      <ul class="list-inside list-disc">
        <li v-for="c in data.changes" :key="c">{{ c }}</li>
      </ul>
      <div v-if="data.lost.length" class="says">
        <p class="font-semibold">What can’t be kept</p>
        <p v-for="l in data.lost" :key="l">{{ l }}</p>
      </div>
    </div>
    <div class="mt-4 flex gap-3">
      <button type="button" class="button button-main" :disabled="!data || !!error || !chosen" @click="take">
        Put it in the cup
      </button>
      <button type="button" class="button" @click="emit('close')">Back to the cup</button>
    </div>
  </SheetDialog>
</template>
