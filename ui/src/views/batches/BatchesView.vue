<script setup lang="ts">
import { ref } from 'vue'
import { RouterLink } from 'vue-router'

import EmptyPlace from '@/parts/EmptyPlace.vue'
import ListMore from '@/parts/ListMore.vue'
import ToggleChip from '@/parts/ToggleChip.vue'
import { useBatches } from '@/use/lists'

import BatchList from './BatchList.vue'

const away = ref(false)
const {
  items: batches,
  more,
  reading,
  next,
} = useBatches(
  () => '',
  () => away.value,
)
</script>

<template>
  <section class="mx-auto w-full max-w-5xl p-4">
    <div class="flex items-center gap-3 pb-3">
      <h1 class="mr-auto">Test batches</h1>
      <ToggleChip :on="away" @click="away = !away">What was put away</ToggleChip>
    </div>
    <BatchList :batches="batches ?? []" named />
    <ListMore class="mt-3" :more="more" :reading="reading" @next="next" />
    <p v-if="batches && !batches.length && away" class="text-lg">No test batch was put away.</p>
    <EmptyPlace v-else-if="batches && !batches.length" picture="near">
      None yet. <RouterLink to="/recipes" class="link">Choose a recipe</RouterLink> and record what you poured of it.
    </EmptyPlace>
  </section>
</template>
