<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { RouterLink } from 'vue-router'

import { api, ask } from '@/api/client'

import BatchList from './BatchList.vue'

const { data: batches } = useQuery({
  queryKey: ['batches'],
  queryFn: () => ask(api.GET('/batches', { params: { query: {} } })),
})
</script>

<template>
  <section class="mx-auto w-full max-w-5xl p-4">
    <h1 class="pb-3">Test batches</h1>
    <BatchList :batches="batches ?? []" named />
    <p v-if="batches && !batches.length" class="text-lg">
      None yet. <RouterLink to="/recipes" class="link">Choose a recipe</RouterLink> and record what you poured of it.
    </p>
  </section>
</template>
