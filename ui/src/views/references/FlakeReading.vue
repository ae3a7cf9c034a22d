<script setup lang="ts">
import { computed } from 'vue'

import type { ReferenceCard } from '@/api/client'

// A part of the photo with the pieces of one reading marked, kind by kind.
const props = defineProps<{
  reference: ReferenceCard
  pieces: { x: number; y: number; sizeMM: number; class: number }[]
}>()
const wide = 9 // mm
const view = computed(() => {
  const { pxPerMM, flake } = props.reference
  const w = wide * pxPerMM
  const all = flake?.pieces ?? []
  const middle = (of: (p: { x: number; y: number }) => number) =>
    all.length ? all.reduce((n, p) => n + of(p), 0) / all.length : w
  return { x: middle((p) => p.x) - w / 2, y: middle((p) => p.y) - w / 3, w, h: (w * 2) / 3 }
})
const inView = computed(() => {
  const v = view.value
  return props.pieces.filter((p) => p.x > v.x && p.x < v.x + v.w && p.y > v.y && p.y < v.y + v.h)
})
const dashes = ['', '5 3', '2 2', '8 2 2 2']
</script>

<template>
  <svg
    class="w-full"
    :viewBox="`${view.x} ${view.y} ${view.w} ${view.h}`"
    role="img"
    aria-label="The pieces as counted"
  >
    <image
      v-if="reference.photo"
      :href="`/api/v1/photos/${reference.photo.uid}`"
      :width="reference.photo.widthPX"
      :height="reference.photo.heightPX"
    />
    <g fill="none">
      <template v-for="(p, i) in inView" :key="i">
        <circle :cx="p.x" :cy="p.y" :r="(p.sizeMM * reference.pxPerMM) / 2 + 1.5" stroke="#fff" stroke-width="3" />
        <circle
          :cx="p.x"
          :cy="p.y"
          :r="(p.sizeMM * reference.pxPerMM) / 2 + 1.5"
          stroke="#191919"
          stroke-width="1.5"
          :stroke-dasharray="dashes[p.class % dashes.length]"
        />
      </template>
    </g>
  </svg>
</template>
