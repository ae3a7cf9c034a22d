<script setup lang="ts">
import { computed, onScopeDispose, ref } from 'vue'
import { RouterLink } from 'vue-router'

import type { Bottle, Dose, Legible, OneMore, Problem, Step } from '@/api/client'
import type { Wish } from '@/use/cup'
import ColourPatch from '@/parts/ColourPatch.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import TypedField from '@/parts/TypedField.vue'
import ToggleChip from '@/parts/ToggleChip.vue'

// One material in the cup: less, the dose as typed, more; under it what one more step would do. Pressed and held, the
// pictures show the cup with it.
const props = defineProps<{
  dose: Dose
  bottle: Bottle | undefined
  working: string
  more: OneMore | undefined
  flake: Legible | undefined
  problem: Problem | undefined
  open: boolean
  ahead: boolean
  now: string // the cup's colour as it is
}>()
const emit = defineEmits<{
  open: []
  step: [step: Step]
  ahead: [on: boolean]
  swap: []
  rungs: [what: 'ladder' | 'bases']
  wish: [wish: Wish]
}>()

const uid = computed(() => props.dose.material)
const name = computed(() => props.bottle?.name ?? uid.value)
const liquid = computed(() => !!props.bottle?.colourant)
const what = computed(() => (liquid.value ? 'drop' : 'step'))
const drip = (drops: number) => emit('step', { kind: 'drip', material: uid.value, drops })
const asked = ref('')
function set(typed: string, sure: boolean) {
  asked.value = typed
  emit('step', { kind: 'dose', material: uid.value, typed, sure })
}

let timer = 0
function hold() {
  timer = window.setTimeout(() => emit('ahead', true), 300)
}
function release() {
  window.clearTimeout(timer)
  if (props.ahead) emit('ahead', false)
}
onScopeDispose(() => window.clearTimeout(timer))
const words = computed(() => {
  const m = props.more
  if (!m) return ''
  return `+ ${m.says}: ${m.words}`
})
const wishes: Wish[] = ['sparse', 'medium', 'heavy']
</script>

<template>
  <li class="border-b border-haze px-4 py-2" :data-line="uid">
    <div class="flex items-center gap-2">
      <ColourPatch
        v-if="bottle"
        :hex="bottle.swatch.hex"
        :name="`${name}, usual dose`"
        class="h-10 w-3.5 shrink-0 rounded-sm"
      />
      <button
        type="button"
        class="min-h-11 min-w-0 flex-1 text-left leading-tight font-semibold"
        :aria-expanded="open"
        @click="emit('open')"
      >
        {{ name }}
      </button>
      <button type="button" class="button round" :aria-label="`One ${what} less of ${name}`" @click="drip(-1)">
        −
      </button>
      <TypedField
        class="bg-transparent! text-center text-lg font-semibold ring-0! focus:bg-white! focus:ring-1!"
        :class="dose.typed.length > 10 ? 'w-40' : 'w-25 px-0!'"
        figure
        :label="liquid ? `Drops of ${name}` : `Dose of ${name}`"
        :value="dose.typed"
        :says="problem?.message"
        :asks="!!problem?.asks"
        @typed="set"
      />
      <button type="button" class="button round" :aria-label="`One ${what} more of ${name}`" @click="drip(1)">+</button>
    </div>
    <button
      v-if="more"
      type="button"
      class="flex min-h-11 w-full items-center gap-2 rounded-lg text-left text-sm leading-tight text-slate select-none"
      :class="ahead && 'bg-white font-semibold text-ink'"
      :aria-label="`Hold to see one ${what} more of ${name}`"
      data-more
      @pointerdown="hold"
      @pointerup="release"
      @pointerleave="release"
      @pointercancel="release"
      @keydown.space.prevent="emit('ahead', true)"
      @keyup.space.prevent="emit('ahead', false)"
      @contextmenu.prevent
    >
      <span class="flex h-4 w-9 shrink-0 overflow-hidden rounded-sm" aria-hidden="true">
        <span class="flex-1" :style="{ background: now }" /><span
          class="flex-1"
          :style="{ background: more.swatch.hex }"
        />
      </span>
      <span class="min-w-0 flex-1">{{ words }}</span>
      <span class="figure whitespace-nowrap">ΔE {{ more.deltaE00.toFixed(1) }}</span>
    </button>
    <div v-if="problem" class="mt-1">
      <ProblemNote :says="problem.message" />
      <button v-if="problem.asks" type="button" class="button mt-1" @click="set(asked, true)">
        It is meant so: keep it
      </button>
    </div>
    <div v-if="open" class="flex flex-col gap-2 pb-2">
      <p class="figure text-slate">{{ working }}</p>
      <p v-if="dose.amount.high" class="text-slate">A guess. Type what it was once you know, and the range is gone.</p>
      <template v-if="flake">
        <p>
          {{ flake.words }}: ΔE00 <span class="figure">{{ flake.deltaE00.toFixed(1) }}</span> against its base;
          <span class="figure">{{ flake.countPerCM2.toFixed(flake.countPerCM2 < 10 ? 1 : 0) }}</span> pieces per cm² can
          be told apart, some <span class="figure">{{ flake.perBait.toFixed(0) }}</span> in a 6 ml bait.
        </p>
        <div class="surround flex gap-2 p-2">
          <div v-for="(h, i) in flake.hues" :key="i" class="min-w-0 flex-1">
            <ColourPatch :hex="h.swatch.hex" :name="`${name}, a hue of it in this base`" class="h-8" />
            <span class="figure text-sm">ΔE {{ h.deltaE00.toFixed(0) }}</span>
          </div>
        </div>
        <p class="flex flex-wrap gap-2">
          <ToggleChip v-for="w in wishes" :key="w" :on="flake.wish === w" @click="emit('wish', w)">
            {{ w }}
          </ToggleChip>
        </p>
      </template>
      <p v-if="bottle?.heat" class="text-slate">Heat: {{ bottle.heatWords }}.</p>
      <p class="flex flex-wrap gap-2">
        <button type="button" class="button px-3" @click="emit('rungs', 'ladder')">More and more of it</button>
        <button v-if="bottle?.flake" type="button" class="button px-3" @click="emit('rungs', 'bases')">
          In other bases
        </button>
        <button v-if="bottle && !bottle.additive" type="button" class="button px-3" @click="emit('swap')">
          Swap it
        </button>
        <RouterLink :to="`/shelf/${uid}`" class="button px-3">Its page</RouterLink>
        <button type="button" class="button px-3" @click="emit('step', { kind: 'remove', material: uid })">
          Take out of the list
        </button>
      </p>
    </div>
  </li>
</template>
