<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'

import { api, ask, type PourOrder, type PourPlanned } from '@/api/client'
import BaitPatch from '@/parts/BaitPatch.vue'
import ProblemNote from '@/parts/ProblemNote.vue'

// What clashes, and what can be done: each way out with the bait as it would be.
const props = defineProps<{ pour: string; revision: number; impossible: NonNullable<PourPlanned['impossible']> }>()
defineEmits<{ take: [order: PourOrder] }>()
const { data, error } = useQuery({
  queryKey: ['pours', 'ways', () => props.pour, () => props.revision],
  queryFn: () => ask(api.POST('/pours/{pour}/ways', { params: { path: { pour: props.pour } } })),
})
</script>

<template>
  <section class="flex flex-col gap-3 bg-white p-4" data-testid="ways-out">
    <h2>{{ impossible.says }}</h2>
    <p v-for="(c, i) in impossible.clash" :key="i" class="text-lg">{{ c }}</p>
    <ProblemNote :says="error?.message" />
    <p v-if="!data && !error" class="text-slate">Looking for ways out…</p>
    <p v-else-if="data && !data.ways.length">
      No single change was found that makes it possible. Change its flake, its molds or how hot it is shot, and look
      again.
    </p>
    <ul v-if="data" class="grid gap-4 md:grid-cols-2">
      <li class="surround p-3">
        <BaitPatch :png="data.now.png" name="As it is asked" />
      </li>
      <li v-for="(w, i) in data.ways" :key="i" class="surround flex flex-col gap-2 p-3" data-testid="way-out">
        <BaitPatch :png="w.picture.png" :name="w.says" :alt="`The bait so: ${w.says}`" />
        <p>{{ w.looks }}</p>
        <button type="button" class="button button-main self-start" @click="$emit('take', w.order)">Do it so</button>
      </li>
    </ul>
  </section>
</template>
