<script setup lang="ts">
import { usePreferredReducedMotion } from '@vueuse/core'
import { ref, watch } from 'vue'

import type { Bottle } from '@/api/client'

// What a tap lets fall, over the bait that it changes: a drop of a liquid, a pinch of the rest. Nobody waits for it.
const props = defineProps<{ dripped: { bottle: Bottle } | undefined }>()
const calm = usePreferredReducedMotion()
interface Falling {
  id: number
  hex: string
  pinch: boolean
  left: number // % across
}
const falling = ref<Falling[]>([])
const lasts = 620 // ms, as the style has it
const most = 8
let count = 0

function fall(bottle: Bottle) {
  if (calm.value === 'reduce' || falling.value.length >= most) return
  const id = count++
  const left = 44 + ((id * 37) % 13) // beside each other where taps are quick
  falling.value.push({ id, hex: bottle.swatch.hex, pinch: !bottle.colourant, left })
  window.setTimeout(() => (falling.value = falling.value.filter((f) => f.id !== id)), lasts)
}
watch(
  () => props.dripped,
  (d) => d && fall(d.bottle),
)
</script>

<template>
  <div class="pointer-events-none absolute inset-0 overflow-hidden" aria-hidden="true">
    <svg
      v-for="f in falling"
      :key="f.id"
      class="falling absolute top-0 h-7 w-7"
      :style="{ left: `${f.left}%`, color: f.hex }"
      viewBox="0 0 28 28"
      fill="currentColor"
      stroke="white"
      stroke-width="0.75"
      data-falling
    >
      <path v-if="!f.pinch" d="M14 2 C17 9 21 13 21 18 A7 7 0 0 1 7 18 C7 13 11 9 14 2 Z" />
      <template v-else>
        <rect
          v-for="(p, i) in [
            [6, 4],
            [16, 8],
            [10, 14],
            [19, 17],
            [7, 21],
          ]"
          :key="i"
          :x="p[0]"
          :y="p[1]"
          width="4"
          height="4"
        />
      </template>
    </svg>
  </div>
</template>

<style scoped>
.falling {
  animation: falls 600ms cubic-bezier(0.5, 0, 0.9, 0.5) both;
}
@keyframes falls {
  0% {
    transform: translateY(-1.75rem);
    opacity: 1;
  }
  70% {
    transform: translateY(6rem);
    opacity: 1;
  }
  100% {
    transform: translateY(6.5rem) scale(1.9, 0.35);
    opacity: 0;
  }
}
</style>
