<script setup lang="ts">
import { computed, ref, watch } from 'vue'

import type { BenchState, Bottle, Problem, Step } from '@/api/client'
import ColourPatch from '@/parts/ColourPatch.vue'
import ListPicker from '@/parts/ListPicker.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import TypedField from '@/parts/TypedField.vue'

// What is in the cup: volume, plastisol and one line a bottle, each tapped or typed.
const props = defineProps<{ state: BenchState; shelf: Bottle[]; problem: Problem | undefined }>()
const emit = defineEmits<{ step: [step: Step]; undo: []; redo: []; save: []; fresh: [] }>()

const byUID = computed(() => new Map(props.shelf.map((b) => [b.uid, b])))
const bases = computed(() => props.shelf.filter((b) => b.plastisol).map((b) => ({ key: b.uid, name: b.name })))
const base = computed({
  get: () => props.state.cup.plastisol,
  set: (material) => emit('step', { kind: 'plastisol', material }),
})
const lines = computed(() =>
  props.state.cup.doses.map((d) => ({
    ...d,
    bottle: byUID.value.get(d.material),
    working: props.state.look.lines.find((l) => l.material === d.material)?.working ?? '',
  })),
)
const open = ref('') // the line whose sum is shown

// A refusal is said at the field it came from.
const lastTyped = ref('')
function typed(field: string, step: Step) {
  lastTyped.value = field
  emit('step', step)
}
const saysAt = (field: string) => (props.problem && lastTyped.value === field ? props.problem.message : undefined)
watch(
  () => props.problem,
  (p) => {
    if (!p) lastTyped.value = ''
  },
)
const drip = (material: string, drops: number) => {
  lastTyped.value = material
  emit('step', { kind: 'drip', material, drops })
}
</script>

<template>
  <div class="flex min-h-0 flex-col">
    <div class="flex flex-wrap items-center gap-2 border-b border-haze p-3">
      <button type="button" class="button px-3" :disabled="!state.canUndo" @click="$emit('undo')">Undo</button>
      <button type="button" class="button px-3" :disabled="!state.canRedo" @click="$emit('redo')">Redo</button>
      <button type="button" class="button px-3" @click="$emit('fresh')">New cup</button>
      <button type="button" class="button button-main ml-auto" @click="$emit('save')">Save</button>
    </div>
    <div class="grid grid-cols-2 gap-2 border-b border-haze p-3">
      <label class="block">
        <span>Plastisol, cold</span>
        <TypedField
          label="Volume of plastisol"
          figure
          :value="state.cup.volume.typed"
          :says="saysAt('volume')"
          @typed="(t) => typed('volume', { kind: 'volume', typed: t })"
        />
      </label>
      <div>
        <span>Grade</span>
        <ListPicker v-model="base" label="Plastisol" :options="bases" />
      </div>
      <p class="figure col-span-2 text-slate">
        {{ state.cup.volume.ml.toFixed(1) }} ml in, {{ state.look.finishedML.toFixed(1) }} ml finished
      </p>
      <ProblemNote class="col-span-2" :says="saysAt('volume')" />
    </div>
    <ul class="min-h-0 overflow-y-auto" aria-label="In the cup">
      <li v-for="l in lines" :key="l.material" class="border-b border-haze px-3 py-2" :data-line="l.material">
        <div class="flex items-center gap-2">
          <ColourPatch
            v-if="l.bottle"
            :hex="l.bottle.swatch.hex"
            :name="`${l.bottle.name}, usual dose`"
            class="h-9 w-5 shrink-0"
          />
          <button
            type="button"
            class="min-h-11 min-w-0 flex-1 truncate text-left"
            :aria-expanded="open === l.material"
            @click="open = open === l.material ? '' : l.material"
          >
            {{ l.bottle?.name ?? l.material }}
          </button>
          <button
            type="button"
            class="button w-11 px-0 text-xl"
            :aria-label="`One drop less of ${l.bottle?.name}`"
            @click="drip(l.material, -1)"
          >
            −
          </button>
          <TypedField
            class="w-28 text-center"
            figure
            :label="`Drops of ${l.bottle?.name}`"
            :value="l.typed"
            :says="saysAt(l.material)"
            @typed="(t) => typed(l.material, { kind: 'dose', material: l.material, typed: t })"
          />
          <button
            type="button"
            class="button w-11 px-0 text-xl"
            :aria-label="`One drop more of ${l.bottle?.name}`"
            @click="drip(l.material, 1)"
          >
            +
          </button>
        </div>
        <ProblemNote class="mt-1" :says="saysAt(l.material)" />
        <div v-if="open === l.material" class="flex items-center gap-3 pt-1">
          <p class="figure flex-1 text-slate">{{ l.working }}</p>
          <button type="button" class="button px-3" @click="emit('step', { kind: 'remove', material: l.material })">
            Take out of the list
          </button>
        </div>
      </li>
      <li v-if="!lines.length" class="px-3 py-4 text-slate">
        Clear plastisol. Tap a bottle below: one tap is one drop.
      </li>
    </ul>
    <ProblemNote v-if="problem && !lastTyped" class="m-3" :says="problem.message" />
  </div>
</template>
