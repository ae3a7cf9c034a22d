<script setup lang="ts">
import { computed } from 'vue'

// Spoons in their true sizes to each other, each as often as it is filled. With ticks they can be ticked off.
const props = defineProps<{ spoons: number[]; size?: number }>()
const names: Record<string, string> = {
  '0.5': '1/2',
  '0.25': '1/4',
  '0.125': '1/8',
  '0.0625': '1/16',
  '0.03125': '1/32',
  '0.015625': '1/64',
}
const across = (tsp: number) => Math.max(5, (props.size ?? 34) * Math.cbrt(tsp))
const all = computed(() =>
  props.spoons.map((tsp) => ({ tsp, r: across(tsp) / 2, name: names[String(tsp)] ?? String(tsp) })),
)
</script>

<template>
  <span class="inline-flex items-end gap-2.5" role="img" :aria-label="all.map((s) => `${s.name} tsp`).join(', ')">
    <span v-for="(s, i) in all" :key="i" class="inline-flex flex-col items-center leading-none">
      <svg
        :width="s.r * 2 + 3"
        :height="s.r * 2 + 16"
        :viewBox="`0 0 ${s.r * 2 + 3} ${s.r * 2 + 16}`"
        aria-hidden="true"
      >
        <circle :cx="s.r + 1.5" :cy="s.r + 1.5" :r="s.r" fill="none" stroke="currentColor" stroke-width="1.6" />
        <path :d="`M${s.r + 1.5} ${s.r * 2 + 1.5}v14`" stroke="currentColor" stroke-width="2" stroke-linecap="round" />
      </svg>
      <span class="figure text-sm">{{ s.name }}</span>
    </span>
  </span>
</template>
