<script setup lang="ts">
import { computed, onScopeDispose, ref } from 'vue'
import { RouterLink } from 'vue-router'

import type { Bottle } from '@/api/client'
import ColourPatch from '@/parts/ColourPatch.vue'
import { kindList } from '@/use/kinds'

// The shelf within reach: one tap is one step of it, a drop or a small spoon.
const props = defineProps<{ bottles: Bottle[] }>()
const emit = defineEmits<{ drip: [material: string]; ahead: [material: string] }>()
const tabs = kindList('many').filter((k) => k.key !== 'plastisol')
// Pressed and held, a bottle shows its next drop before it falls, in the cup or not; that is no tap.
// How long it was held is told by the finger: a page that is busy may be late with its timer, and a tap is a tap.
const heldMS = 350
let timer = 0
let looked = false
let pressed = 0
function hold(uid: string, at: PointerEvent) {
  looked = false
  pressed = at.timeStamp
  timer = window.setTimeout(() => {
    looked = true
    emit('ahead', uid)
  }, heldMS)
}
function release(at: PointerEvent) {
  window.clearTimeout(timer)
  if (looked) emit('ahead', '')
  if (at.timeStamp - pressed < heldMS) looked = false
}
function tap(uid: string) {
  if (!looked) emit('drip', uid)
  looked = false
}
onScopeDispose(() => window.clearTimeout(timer))
const kind = ref<string>('colourant')
const find = ref('')
// As the trade says it: .015 of an inch.
const size = (inches: number) => `${inches.toFixed(3).replace(/^0/, '')} in`
const shown = computed(() => {
  const words = find.value.trim().toLowerCase()
  return props.bottles.filter((b) =>
    words ? !b.plastisol && `${b.name} ${b.hue}`.toLowerCase().includes(words) : b.kind === kind.value,
  )
})
</script>

<template>
  <div class="flex min-h-0 flex-1 flex-col bg-white">
    <div class="flex items-center px-2">
      <button
        v-for="k in tabs"
        :key="k.key"
        type="button"
        class="tab"
        :aria-pressed="kind === k.key && !find"
        @click="((kind = k.key), (find = ''))"
      >
        {{ k.name }}
      </button>
      <input
        v-model="find"
        class="field w-16! flex-1 rounded-full!"
        type="search"
        placeholder="Find"
        aria-label="Find on the shelf"
      />
    </div>
    <div
      class="grid min-h-0 auto-rows-max grid-cols-[repeat(auto-fill,minmax(8.2rem,1fr))] content-start gap-2 overflow-y-auto p-3"
    >
      <button
        v-for="b in shown"
        :key="b.uid"
        type="button"
        class="flex min-h-12 items-center gap-2.5 rounded-xl bg-[#efefef] px-3 text-left font-medium select-none active:bg-fog"
        :aria-label="`${b.colourant ? 'One drop' : b.step} of ${b.name}`"
        :data-bottle="b.uid"
        @click="tap(b.uid)"
        @pointerdown="hold(b.uid, $event)"
        @pointerup="release"
        @pointerleave="release"
        @pointercancel="release"
        @contextmenu.prevent
      >
        <ColourPatch :hex="b.swatch.hex" :name="`${b.name} at ${b.dose}`" class="h-8 w-3 shrink-0 rounded-sm" />
        <span class="py-1 leading-tight"
          >{{ b.name
          }}<span v-if="b.flake" class="figure block text-sm text-slate">{{ size(b.flake.sizeIn.value) }}</span></span
        >
      </button>
      <p v-if="!shown.length" class="col-span-2">
        {{ find ? 'Nothing on the shelf is called that.' : 'None on the shelf yet.' }}
        <RouterLink to="/shelf" class="link">To the shelf</RouterLink>
      </p>
    </div>
  </div>
</template>
