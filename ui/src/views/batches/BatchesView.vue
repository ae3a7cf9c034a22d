<script setup lang="ts">
import { RouterLink } from 'vue-router'

import ListMore from '@/parts/ListMore.vue'
import { useBatches } from '@/use/lists'

import BatchList from './BatchList.vue'

const { items: batches, more, reading, next } = useBatches(() => '')
</script>

<template>
  <section class="mx-auto w-full max-w-5xl p-4">
    <h1 class="pb-3">Test batches</h1>
    <BatchList :batches="batches ?? []" named />
    <ListMore class="mt-3" :more="more" :reading="reading" @next="next" />
    <p v-if="batches && !batches.length" class="text-lg">
      None yet. <RouterLink to="/recipes" class="link">Choose a recipe</RouterLink> and record what you poured of it.
    </p>
  </section>
</template>
