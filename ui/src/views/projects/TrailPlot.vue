<script setup lang="ts">
import { computed } from 'vue'

import type { PartTrail } from '@/api/client'

// How near each batch came, with the line to get under. What was only predicted is drawn hollow.
const props = defineProps<{ part: PartTrail }>()
const W = 360
const H = 168
const left = 34
const bottom = 26
const most = computed(() => Math.max(4, props.part.stop * 1.6, ...props.part.tries.map((t) => t.deltaE00)) * 1.08)
const count = computed(() => Math.max(props.part.tries.length, 3))
const x = (i: number) => left + 18 + ((W - left - 36) * i) / Math.max(1, count.value - 1)
const y = (d: number) => (H - bottom) * (1 - d / most.value) + 6
const ticks = computed(() => {
  const step = [1, 2, 5, 10, 20].find((s) => most.value / s <= 5) ?? 50
  return Array.from({ length: Math.floor(most.value / step) + 1 }, (_, i) => i * step)
})
const line = computed(() => props.part.tries.map((t, i) => `${i ? 'L' : 'M'}${x(i)} ${y(t.deltaE00)}`).join(''))
const says = computed(
  () =>
    `${props.part.name}: ` +
    (props.part.tries
      .map((t, i) => `batch ${i + 1} ${t.by === 'predicted' ? 'predicted at' : 'at'} ΔE00 ${t.deltaE00.toFixed(1)}`)
      .join(', ') || 'nothing poured yet') +
    `; the line is at ${props.part.stop.toFixed(1)}`,
)
</script>

<template>
  <svg :viewBox="`0 0 ${W} ${H}`" class="w-full max-w-md" role="img" :aria-label="says">
    <g class="figure" font-size="12" fill="currentColor">
      <template v-for="t in ticks" :key="t">
        <line :x1="left" :x2="W" :y1="y(t)" :y2="y(t)" stroke="#c4c4c4" stroke-width="0.7" />
        <text :x="left - 6" :y="y(t) + 4" text-anchor="end">{{ t }}</text>
      </template>
      <text
        v-for="(t, i) in part.tries"
        :key="t.uid"
        :x="x(i)"
        :y="H - 4"
        text-anchor="middle"
        :font-weight="i === part.best ? 700 : 400"
      >
        {{ i + 1 }}
      </text>
      <line :x1="left" :x2="W" :y1="y(part.stop)" :y2="y(part.stop)" stroke="#191919" stroke-dasharray="5 4" />
      <text :x="left + 4" :y="y(part.stop) - 5">
        {{ part.ofBag ? 'the bag’s own spread' : 'same bag' }} {{ part.stop.toFixed(1) }}
      </text>
    </g>
    <path :d="line" fill="none" stroke="#191919" stroke-width="1.4" />
    <circle
      v-for="(t, i) in part.tries"
      :key="t.uid"
      :cx="x(i)"
      :cy="y(t.deltaE00)"
      :r="i === part.best ? 6.5 : 5"
      :fill="t.by === 'predicted' ? '#f3f3f3' : '#191919'"
      stroke="#191919"
      stroke-width="1.4"
      :stroke-dasharray="t.by === 'moved' ? '2.5 2' : undefined"
      :fill-opacity="t.by === 'moved' ? 0.35 : 1"
    />
  </svg>
</template>
