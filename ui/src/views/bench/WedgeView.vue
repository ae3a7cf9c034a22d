<script setup lang="ts">
import { computed, ref } from 'vue'

import type { BenchState, ShopInfo } from '@/api/client'

// The cup from film to depth. The cursor is where the maker looks; it is dragged, or moved with the arrow keys.
const props = defineProps<{ wedge: BenchState['wedge']; shop: ShopInfo; mm: number }>()
const emit = defineEmits<{ mm: [mm: number] }>()

const span = computed(() => Math.log(props.shop.toMM / props.shop.fromMM))
const share = (mm: number) => Math.min(1, Math.max(0, Math.log(mm / props.shop.fromMM) / span.value))
const board = ref<HTMLElement>()

function toMM(at: number): number {
  const mm = props.shop.fromMM * Math.exp(span.value * Math.min(1, Math.max(0, at)))
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
  else if (e.key === 'Home') emit('mm', props.shop.fromMM)
  else if (e.key === 'End') emit('mm', props.shop.toMM)
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
    :aria-valuemin="shop.fromMM"
    :aria-valuemax="shop.toMM"
    :aria-valuenow="mm"
    :aria-valuetext="`${mm} mm`"
    @pointerdown.prevent="grab"
    @pointermove="drag"
    @keydown="keys"
  >
    <div v-for="(s, i) in wedge.strips" :key="s.key">
      <p class="leading-tight">{{ s.name }}</p>
      <div
        class="h-10 w-full [image-rendering:pixelated]"
        role="img"
        :aria-label="`Thickness wedge ${s.name}`"
        :data-strip="s.key"
        :style="strip(i)"
      />
    </div>
    <div class="pointer-events-none absolute inset-y-0 w-0" :style="left(mm)">
      <div class="absolute inset-y-0 bottom-11 -ml-px w-0.5 bg-white mix-blend-difference" />
      <div
        class="figure absolute bottom-0 flex h-10 items-center border border-ink bg-white px-2 whitespace-nowrap text-ink"
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
