<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink } from 'vue-router'

import type { Bottle } from '@/api/client'
import ColourPatch from '@/parts/ColourPatch.vue'

// The shelf within reach: one tap is one drop.
const props = defineProps<{ bottles: Bottle[] }>()
defineEmits<{ drip: [material: string] }>()
const colourants = computed(() => props.bottles.filter((b) => b.colourant))
</script>

<template>
  <div class="mt-auto flex min-h-56 flex-1 basis-0 flex-col border-t border-slate lg:min-h-40">
    <p class="px-3 pt-2 text-slate">Bottles: one tap, one drop</p>
    <div class="grid min-h-0 grid-cols-2 content-start gap-2 overflow-y-auto p-3">
      <button
        v-for="b in colourants"
        :key="b.uid"
        type="button"
        class="flex min-h-12 items-stretch gap-2 border border-haze bg-white text-left active:bg-fog"
        :aria-label="`One drop of ${b.name}`"
        :data-bottle="b.uid"
        @click="$emit('drip', b.uid)"
      >
        <ColourPatch :hex="b.swatch.hex" :name="`${b.name} at ${b.dose}`" class="w-5 shrink-0" />
        <span class="self-center py-1 pr-1 leading-tight">{{ b.name }}</span>
      </button>
      <p v-if="!colourants.length" class="col-span-2">
        <RouterLink to="/shelf" class="link">Put colourants on the shelf first</RouterLink>
      </p>
    </div>
  </div>
</template>
