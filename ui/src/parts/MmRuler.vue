<script setup lang="ts">
import { computed } from 'vue'

// A ruler as wide as the picture over it: from so many millimetres before the nose, so many long.
const props = defineProps<{ fromMM: number; mm: number }>()
const ticks = computed(() => {
  const out: { x: number; at: number; long: boolean }[] = []
  for (let at = 0; at <= props.fromMM + props.mm; at += 5)
    if (at >= props.fromMM) out.push({ x: at - props.fromMM, at, long: at % 10 === 0 })
  return out
})
// Every 10, 20 or 50 mm is named, so that there is room for the figures.
const every = computed(() => [10, 20, 50, 100].find((n) => props.mm / n <= 9) ?? 100)
</script>

<template>
  <div class="relative h-6" role="img" :aria-label="`A ruler of ${mm.toFixed(0)} mm`">
    <svg class="absolute inset-0 h-2 w-full" :viewBox="`0 0 ${mm} 8`" preserveAspectRatio="none" aria-hidden="true">
      <path
        v-for="t in ticks"
        :key="t.at"
        :d="`M${t.x} 0v${t.long ? 8 : 4}`"
        stroke="currentColor"
        stroke-width="1"
        vector-effect="non-scaling-stroke"
      />
    </svg>
    <template v-for="t in ticks" :key="t.at">
      <span
        v-if="t.at % every === 0"
        class="figure absolute top-2 -translate-x-1/2 text-xs leading-none"
        :style="{ left: `${(100 * t.x) / mm}%` }"
        >{{ t.at }}{{ t.at === 0 ? ' mm' : '' }}</span
      >
    </template>
  </div>
</template>
