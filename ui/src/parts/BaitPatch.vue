<script setup lang="ts">
import { computed } from 'vue'

import MmRuler from './MmRuler.vue'

// A picture of a bait, flat on the surround, with its name under it. Where the widest of its group is told, it is drawn to one scale
// with the others, over a ruler.
const props = defineProps<{
  png: string
  name: string
  alt?: string
  scale?: { pxPerMM: number; widthPX: number; noseMM: number }
  widestMM?: number
}>()
const mm = computed(() => (props.scale ? props.scale.widthPX / props.scale.pxPerMM : 0))
</script>

<template>
  <figure class="flex min-w-0 flex-col gap-1">
    <div v-if="scale && widestMM" class="mt-auto" :style="{ width: `${(100 * mm) / widestMM}%` }">
      <img :src="png" :alt="alt ?? name" class="w-full" draggable="false" />
      <MmRuler :from-m-m="scale.noseMM" :mm="mm" />
    </div>
    <img v-else :src="png" :alt="alt ?? name" class="w-full" draggable="false" />
    <figcaption class="leading-tight">{{ name }}<slot /></figcaption>
  </figure>
</template>
