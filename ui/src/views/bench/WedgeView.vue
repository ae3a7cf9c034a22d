<script setup lang="ts">
import { computed, ref } from 'vue'

import type { BenchState, ShopInfo } from '@/api/client'

// The cup from film to depth. The cursor is where the maker looks; it is dragged, or moved with the arrow keys.
const props = defineProps<{ wedge: BenchState['wedge']; shop: ShopInfo; mm: number }>()
const emit = defineEmits<{ mm: [mm: number] }>()

const scale = computed(() => props.shop.wedgeMM) // thickness at even steps, from end to end
const share = (mm: number) => {
  const all = scale.value
  const above = all.findIndex((v) => v >= mm)
  if (above < 0) return 1
  const [low, high] = [all[above - 1] ?? mm, all[above]!]
  return Math.max(0, (above - 1 + (high > low ? (mm - low) / (high - low) : 1)) / (all.length - 1))
}
const board = ref<HTMLElement>()

function toMM(at: number): number {
  const all = scale.value
  const mm = all[Math.round(Math.min(1, Math.max(0, at)) * (all.length - 1))]!
  return Number(mm.toPrecision(2))
}
function point(e: PointerEvent) {
  const box = board.value?.getBoundingClientRect()
  if (box) emit('mm', toMM((e.clientX - box.left) / box.width))
}
function grab(e: PointerEvent) {
  board.value?.setPointerCapture(e.pointerId)
  point(e)
}
function drag(e: PointerEvent) {
  if (e.buttons) point(e)
}
function keys(e: KeyboardEvent) {
  const by = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1, PageUp: 5, PageDown: -5 }[e.key]
  if (by) emit('mm', toMM(share(props.mm) + by / 60))
  else if (e.key === 'Home') emit('mm', scale.value[0]!)
  else if (e.key === 'End') emit('mm', scale.value.at(-1)!)
  else return
  e.preventDefault()
}
const strip = (i: number) => ({
  backgroundImage: `url(${props.wedge.png})`,
  backgroundSize: `100% ${100 * props.wedge.strips.length}%`,
  backgroundPosition: `0 ${(100 * i) / (props.wedge.strips.length - 1)}%`,
})
const left = (mm: number) => ({ left: `${100 * share(mm)}%` })
</script>

<template>
  <div
    ref="board"
    class="relative touch-none pb-12 select-none"
    role="slider"
    tabindex="0"
    aria-label="Thickness at which the cup is looked at"
    :aria-valuemin="scale[0]"
    :aria-valuemax="scale.at(-1)"
    :aria-valuenow="mm"
    :aria-valuetext="`${mm} mm`"
    @pointerdown.prevent="grab"
    @pointermove="drag"
    @keydown="keys"
  >
    <div v-for="(s, i) in wedge.strips" :key="s.key">
      <div
        class="flex h-9 w-full items-center px-2.5 text-sm font-semibold [image-rendering:pixelated] max-sm:h-6"
        :class="s.key === 'dark' ? 'text-white' : 'text-black'"
        role="img"
        :aria-label="`Thickness wedge ${s.name}`"
        :data-strip="s.key"
        :style="strip(i)"
      >
        <span class="max-sm:hidden">{{ s.name }}</span>
      </div>
    </div>
    <div class="pointer-events-none absolute inset-y-0 w-0" :style="left(mm)">
      <div class="absolute inset-y-0 bottom-11 -ml-px w-0.5 bg-white mix-blend-difference" />
      <div
        class="figure absolute bottom-0 flex h-9 items-center rounded-lg bg-white px-2.5 font-semibold whitespace-nowrap text-ink"
        :class="share(mm) > 0.93 ? '-translate-x-full' : share(mm) < 0.07 ? '' : '-translate-x-1/2'"
      >
        {{ mm }} mm
      </div>
    </div>
    <div v-for="m in shop.marks" :key="m.name" class="pointer-events-none absolute bottom-0 h-12" :style="left(m.mm)">
      <div class="absolute top-0 h-2 w-px bg-current" />
      <span
        class="absolute top-2.5 whitespace-nowrap"
        :class="share(m.mm) > 0.97 ? 'right-0' : share(m.mm) < 0.03 ? 'left-0' : '-translate-x-1/2'"
        >{{ Math.abs(share(m.mm) - share(mm)) > 0.1 ? m.name : '' }}</span
      >
    </div>
  </div>
</template>
