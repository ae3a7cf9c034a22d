<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { RouterLink, useRoute } from 'vue-router'

import { api, ask } from '@/api/client'
import { useShop } from '@/use/shop'

// A label for the bag: the baits as they look, what they are called, how many, whose they are.
const route = useRoute()
const uid = computed(() => route.params.pack as string)
const { data: shop } = useShop()
const { data: page } = useQuery({
  queryKey: ['packs', uid],
  queryFn: () => ask(api.GET('/packs/{pack}', { params: { path: { pack: uid.value } } })),
})
const print = () => window.print()
</script>

<template>
  <section v-if="page" class="flex flex-col items-start gap-4 p-6">
    <div class="flex gap-3 print:hidden">
      <RouterLink :to="`/packs/${uid}`" class="button">Back to it</RouterLink>
      <button type="button" class="button button-main" @click="print">Print it</button>
    </div>
    <article class="flex w-[30rem] max-w-full flex-col gap-3 border border-ink bg-white p-4" data-testid="label">
      <div class="flex items-baseline gap-3">
        <h1 class="flex-1 text-3xl leading-tight">{{ page.name }}</h1>
        <p class="figure text-2xl font-semibold">{{ page.count }}</p>
      </div>
      <figure v-for="l in page.lines" :key="l.bait" class="flex items-center gap-3">
        <img v-if="l.picture.png" :src="l.picture.png" :alt="l.name" class="w-64" />
        <figcaption>
          <span class="figure">{{ l.count }}</span> {{ l.name }}
        </figcaption>
      </figure>
      <p class="text-sm leading-snug">
        {{ shop?.name }}. Soft plastic: keep it in its bag, apart from other plastics. Not food; keep it from small
        children and animals.
      </p>
    </article>
  </section>
</template>
