<script setup lang="ts">
import bait from '@/assets/empty/bait.jpg'
import near from '@/assets/empty/near.jpg'
import recipes from '@/assets/empty/recipes.jpg'
import target from '@/assets/empty/target.jpg'

// What a place is for, with a picture of it, where there is nothing in it yet. The pictures are the program's own, of
// its demo.
defineProps<{ picture: keyof typeof pictures }>()
const pictures = { bait, near, recipes, target }
const pins = [
  [26, 38],
  [45, 55],
  [80, 40],
]
</script>

<template>
  <div class="flex max-w-xl flex-col gap-4" data-testid="empty">
    <div class="relative overflow-hidden rounded-2xl">
      <img :src="pictures[picture]" alt="" class="w-full" />
      <template v-if="picture === 'target'">
        <span
          v-for="(p, i) in pins"
          :key="i"
          class="absolute h-5 w-5 rounded-full border-2 border-white ring-1 ring-ink"
          :style="{ left: `${p[0]}%`, top: `${p[1]}%` }"
          aria-hidden="true"
        />
      </template>
    </div>
    <p class="text-lg"><slot /></p>
  </div>
</template>
