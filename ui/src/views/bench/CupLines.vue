<script setup lang="ts">
import { computed, ref, useTemplateRef, watch } from 'vue'

import type { BenchState, Bottle, Problem, Step } from '@/api/client'
import type { Wish } from '@/use/cup'
import ListPicker from '@/parts/ListPicker.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import TypedField from '@/parts/TypedField.vue'

import CupLine from './CupLine.vue'

// What is in the cup: volume, plastisol and one line a material, each tapped or typed.
const props = defineProps<{
  state: BenchState
  shelf: Bottle[]
  byUID: Map<string, Bottle>
  problem: Problem | undefined
  ahead: string
  tapped?: { material: string } | undefined
}>()
const emit = defineEmits<{
  step: [step: Step]
  undo: []
  redo: []
  save: []
  fresh: []
  ahead: [material: string]
  swap: [material: string]
  rungs: [what: 'ladder' | 'bases', material: string]
  wish: [material: string, wish: Wish]
}>()

const bases = computed(() => props.shelf.filter((b) => b.plastisol).map((b) => ({ key: b.uid, name: b.name })))
const base = computed({
  get: () => props.state.cup.plastisol,
  set: (material) => emit('step', { kind: 'plastisol', material }),
})
const lines = computed(() =>
  props.state.cup.doses.map((d) => ({
    dose: d,
    bottle: props.byUID.get(d.material),
    working: props.state.look.lines.find((l) => l.material === d.material)?.working ?? '',
    more: props.state.oneMore.find((o) => o.material === d.material),
    flake: props.state.flakes.find((f) => f.material === d.material),
  })),
)
// The line of what was tapped on the shelf comes into view. A tap on a line itself moves nothing: it would move under
// the finger.
const list = useTemplateRef<HTMLElement>('list')
let wanted = ''
function reveal() {
  const line = list.value?.querySelector(`[data-line="${CSS.escape(wanted)}"]`)
  for (const box of line ? [list.value!, list.value!.parentElement!] : []) {
    if (getComputedStyle(box).overflowY !== 'auto') continue
    const at = line!.getBoundingClientRect()
    const within = box.getBoundingClientRect()
    const head = box.firstElementChild! // on a phone it stays above the lines
    const top = within.top + (getComputedStyle(head).position === 'sticky' ? head.clientHeight : 0)
    box.scrollTop += Math.max(0, at.bottom - within.bottom) - Math.max(0, top - at.top)
  }
}
watch(
  () => props.tapped,
  (t) => {
    wanted = t?.material ?? ''
    reveal()
  },
  { flush: 'post' },
)
watch(
  () => lines.value.length,
  (is, was) => {
    if (is > was) reveal()
    wanted = ''
  },
  { flush: 'post' },
)
const open = ref('') // the line whose sum is shown

// A refusal is said at the field it came from.
const lastTyped = ref('')
function typed(field: string, step: Step) {
  lastTyped.value = field
  emit('step', step)
}
const at = (field: string) => (props.problem && lastTyped.value === field ? props.problem : undefined)
watch(
  () => props.problem,
  (p) => {
    if (!p) lastTyped.value = ''
  },
)
</script>

<template>
  <!-- On a phone all of it scrolls together, so that the lines have room. -->
  <div class="flex min-h-0 flex-col max-sm:overflow-y-auto">
    <div
      class="flex flex-wrap items-center gap-2 border-b border-haze bg-mist px-4 py-2 max-sm:sticky max-sm:top-0 max-sm:z-10"
    >
      <button type="button" class="button round" aria-label="Undo" :disabled="!state.canUndo" @click="$emit('undo')">
        <svg viewBox="0 0 24 24" class="h-5 w-5" aria-hidden="true">
          <path d="M9 6L4 11l5 5M4 11h10a6 6 0 0 1 0 8" fill="none" stroke="currentColor" stroke-width="1.8" />
        </svg>
      </button>
      <button type="button" class="button round" aria-label="Redo" :disabled="!state.canRedo" @click="$emit('redo')">
        <svg viewBox="0 0 24 24" class="h-5 w-5" aria-hidden="true">
          <path d="M15 6l5 5-5 5M20 11H10a6 6 0 0 0 0 8" fill="none" stroke="currentColor" stroke-width="1.8" />
        </svg>
      </button>
      <button type="button" class="button px-4" @click="$emit('fresh')">New cup</button>
      <button type="button" class="button button-main ml-auto" @click="$emit('save')">Save</button>
    </div>
    <div class="grid grid-cols-2 items-center gap-x-2 border-b border-haze px-4 py-2">
      <label class="block">
        <span class="sr-only">Plastisol, cold</span>
        <TypedField
          label="Volume of plastisol"
          class="bg-transparent! px-0! text-2xl font-semibold ring-0! focus:bg-white! focus:px-2! focus:ring-1!"
          figure
          :value="state.cup.volume.typed"
          :says="at('volume')?.message"
          @typed="(t) => typed('volume', { kind: 'volume', typed: t })"
        />
      </label>
      <div>
        <ListPicker v-model="base" label="Plastisol" :options="bases" />
      </div>
      <p class="figure col-span-2 text-sm text-slate">
        {{ state.cup.volume.ml.toFixed(1) }} ml cold, {{ state.look.finishedML.toFixed(1) }} ml finished
      </p>
      <ProblemNote class="col-span-2" :says="at('volume')?.message" />
    </div>
    <ul
      ref="list"
      class="min-h-0 flex-1 overflow-y-auto max-sm:flex-none max-sm:overflow-visible"
      aria-label="In the cup"
    >
      <CupLine
        v-for="l in lines"
        :key="l.dose.material"
        v-bind="l"
        :problem="at(l.dose.material)"
        :open="open === l.dose.material"
        :ahead="ahead === l.dose.material"
        :now="state.look.swatch.hex"
        @open="open = open === l.dose.material ? '' : l.dose.material"
        @step="(s) => typed(l.dose.material, s)"
        @ahead="(on) => emit('ahead', on ? l.dose.material : '')"
        @swap="emit('swap', l.dose.material)"
        @rungs="(what) => emit('rungs', what, l.dose.material)"
        @wish="(w) => emit('wish', l.dose.material, w)"
      />
      <li v-if="!lines.length" class="px-3 py-4 text-slate">
        Clear plastisol. Tap a bottle below: one tap is one drop, or one small spoon.
      </li>
    </ul>
    <ProblemNote v-if="problem && !lastTyped" class="m-3" :says="problem.message" />
  </div>
</template>
