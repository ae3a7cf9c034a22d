<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { RouterLink, useRoute } from 'vue-router'

import { api, ask } from '@/api/client'
import ColourPatch from '@/parts/ColourPatch.vue'

// A label for the tub: name, how much, what it was, how tired, and a code that leads back to its page.
const route = useRoute()
const uid = computed(() => route.params.leftover as string)
const { data: page } = useQuery({
  queryKey: ['leftovers', uid],
  queryFn: () => ask(api.GET('/leftovers/{leftover}', { params: { path: { leftover: uid.value } } })),
})
const print = () => window.print()
const code = computed(() => `/api/v1/leftovers/${uid.value}/code?at=${encodeURIComponent(location.origin)}`)
</script>

<template>
  <section v-if="page" class="flex flex-col items-start gap-4 p-6">
    <div class="flex gap-3 print:hidden">
      <RouterLink :to="`/leftovers/${uid}`" class="button">Back to it</RouterLink>
      <button type="button" class="button button-main" @click="print">Print it</button>
    </div>
    <article class="flex w-[34rem] max-w-full items-stretch gap-4 border border-ink bg-white p-4" data-testid="label">
      <img :src="code" alt="A code that leads to its page" class="h-40 w-40" />
      <div class="min-w-0 flex-1">
        <h1 class="leading-tight">{{ page.name }}</h1>
        <p class="figure text-2xl font-semibold">{{ page.volume.toFixed(0) }} ml</p>
        <p>{{ page.from }}, {{ page.day }}</p>
        <p>{{ page.tired }}</p>
        <p class="pt-1 text-sm leading-tight">{{ page.holds }}</p>
      </div>
      <ColourPatch :hex="page.look.hex" :name="page.name" class="w-10 print:hidden" />
    </article>
  </section>
</template>
