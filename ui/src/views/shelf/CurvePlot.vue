<script setup lang="ts">
import { computed } from 'vue'

// What a bottle takes and scatters over the spectrum: as chips have it, and faint as its figures had it.
const props = defineProps<{ nm: number[]; k: number[]; s: number[]; wasK: number[]; wasS: number[] }>()
const W = 420
const H = 200
const left = 46
const bottom = 24
const top = computed(() => Math.max(...props.k, ...props.wasK, ...props.s, 1e-9) * 1.08)
const x = (nm: number) => left + ((nm - props.nm[0]!) / (props.nm.at(-1)! - props.nm[0]!)) * (W - left - 6)
const y = (v: number) => 8 + (H - bottom - 8) * (1 - v / top.value)
const line = (values: number[]) => values.map((v, i) => `${i ? 'L' : 'M'}${x(props.nm[i]!)} ${y(v)}`).join('')
const ticks = computed(() => [0, 0.5, 1].map((t) => t * top.value))
</script>

<template>
  <svg
    :viewBox="`0 0 ${W} ${H}`"
    class="w-full max-w-xl"
    role="img"
    aria-label="What it takes and what it scatters over the spectrum, before and after"
  >
    <g class="figure" font-size="12" fill="currentColor">
      <template v-for="t in ticks" :key="t">
        <line :x1="left" :x2="W" :y1="y(t)" :y2="y(t)" stroke="#c4c4c4" stroke-width="0.7" />
        <text :x="left - 6" :y="y(t) + 4" text-anchor="end">{{ t.toPrecision(2) }}</text>
      </template>
      <text v-for="at in [400, 500, 600, 700]" :key="at" :x="x(at)" :y="H - 6" text-anchor="middle">{{ at }}</text>
    </g>
    <path :d="line(wasK)" fill="none" stroke="#8e8e8e" stroke-width="1.4" />
    <path :d="line(wasS)" fill="none" stroke="#8e8e8e" stroke-width="1.4" stroke-dasharray="5 4" />
    <path :d="line(k)" fill="none" stroke="#191919" stroke-width="2.2" />
    <path :d="line(s)" fill="none" stroke="#191919" stroke-width="2.2" stroke-dasharray="5 4" />
  </svg>
</template>
