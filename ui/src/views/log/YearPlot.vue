<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '@/api/client'

// The year at a glance: baits poured and spoiled above, packs sold and fish below, month by month.
const props = defineProps<{ months: Schemas['Month'][] }>()
const W = 940
const H = 190
const left = 66
const step = computed(() => (W - left) / Math.max(12, props.months.length))
const most = computed(() => Math.max(10, ...props.months.map((m) => m.good + m.spoiled)))
const mostLow = computed(() => Math.max(5, ...props.months.map((m) => Math.max(m.caught, m.sold))))
const base = 108
const up = (n: number) => (n / most.value) * 84
const down = (n: number) => (n / mostLow.value) * 46
const name = (m: string) => new Date(`${m}-15T12:00:00`).toLocaleDateString('en-GB', { month: 'short' })
const says = computed(() =>
  props.months
    .map((m) => `${name(m.month)}: ${m.good} poured, ${m.spoiled} spoiled, ${m.sold} packs sold, ${m.caught} fish`)
    .join('; '),
)
</script>

<template>
  <div class="overflow-x-auto bg-white p-3" tabindex="0" role="region" aria-label="The year at a glance">
    <svg :viewBox="`0 0 ${W} ${H}`" class="w-full min-w-160" role="img" :aria-label="says" font-size="13">
      <text x="0" y="40">Baits</text>
      <text x="0" y="142">Packs</text>
      <text x="0" y="160" fill="#5c5c5c">Fish</text>
      <line :x1="left" :x2="W" :y1="base" :y2="base" stroke="#191919" stroke-width="0.8" />
      <g v-for="(m, i) in months" :key="m.month" :transform="`translate(${left + i * step} 0)`" class="figure">
        <rect x="6" :width="step * 0.5" :y="base - up(m.good)" :height="up(m.good)" fill="#3a3a3a" />
        <rect x="6" :width="step * 0.5" :y="base - up(m.good) - up(m.spoiled)" :height="up(m.spoiled)" fill="#c4c4c4" />
        <text v-if="m.good" :x="6 + step * 0.25" :y="base - up(m.good) - up(m.spoiled) - 4" text-anchor="middle">
          {{ m.good }}
        </text>
        <rect x="6" :width="step * 0.24" :y="base + 1" :height="down(m.sold)" fill="#5c5c5c" />
        <rect :x="6 + step * 0.26" :width="step * 0.24" :y="base + 1" :height="down(m.caught)" fill="#21565f" />
        <text v-if="m.caught" :x="6 + step * 0.38" :y="base + down(m.caught) + 14" text-anchor="middle" fill="#21565f">
          {{ m.caught }}
        </text>
        <text :x="6 + step * 0.25" :y="H - 4" text-anchor="middle" fill="#5c5c5c">{{ name(m.month) }}</text>
      </g>
    </svg>
  </div>
</template>
