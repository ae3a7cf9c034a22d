<script setup lang="ts">
import { RouterLink, type RouteLocationRaw } from 'vue-router'

import type { ReferenceCard } from '@/api/client'

import ColourPatch from './ColourPatch.vue'

// A reference as one knows it again: its photo, and the colours of its pins.
defineProps<{ reference: ReferenceCard; to: RouteLocationRaw }>()
</script>

<template>
  <RouterLink :to="to" class="block">
    <img
      v-if="reference.photo"
      :src="`/api/v1/photos/${reference.photo.uid}`"
      :alt="reference.name"
      class="aspect-8/5 w-full bg-black/10 object-cover"
    />
    <div class="flex" :class="reference.photo ? 'h-10' : 'aspect-8/5 pb-0'">
      <ColourPatch v-for="p in reference.pins" :key="p.uid" :hex="p.swatch.hex" :name="p.name" class="flex-1" />
    </div>
    <p class="pt-1 font-semibold">{{ reference.name }}</p>
    <p>{{ reference.pins.length ? [...new Set(reference.pins.map((p) => p.name))].join(', ') : 'No pins yet' }}</p>
  </RouterLink>
</template>
