<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'

import { api, ask } from '@/api/client'
import BaitPatch from '@/parts/BaitPatch.vue'
import ListPicker from '@/parts/ListPicker.vue'
import { useCups } from '@/use/lists'
import { useShapes, useShop } from '@/use/shop'

// One colour in every bait, or every colour in one bait, in one light.
const route = useRoute()
const router = useRouter()
const { data: shop } = useShop()
const { data: shapes } = useShapes()
const { items: cups } = useCups()
const q = (key: string) => (route.query[key] as string) ?? ''
const pick = (key: string, usual = '') =>
  computed({
    get: () => q(key) || usual,
    set: (v: string) => void router.replace({ query: { ...route.query, [key]: v } }),
  })
const ground = pick('ground', 'white')
const light = pick('light', 'D65')
const cup = pick('cup')
const bait = pick('bait')
const after = pick('after')
const look = computed(() => ({ ground: ground.value as 'white', light: light.value as 'D65' }))
const { data: sheet } = useQuery({
  queryKey: ['sheet', cup, bait, look, after],
  queryFn: () =>
    cup.value
      ? ask(api.GET('/cups/{cup}/sheet', { params: { path: { cup: cup.value }, query: look.value } }))
      : ask(api.GET('/sheets/recipes', { params: { query: { ...look.value, bait: bait.value, after: after.value } } })),
  placeholderData: (was) => was,
})
const widest = computed(() => Math.max(...(sheet.value?.pictures ?? []).map((p) => p.widthPX / p.pxPerMM)))
</script>

<template>
  <section class="surround flex-1 p-4">
    <div class="flex flex-wrap items-center gap-3 pb-4">
      <h1 class="mr-auto">{{ cup ? 'One colour, every bait' : 'Every colour, one bait' }}</h1>
      <ListPicker
        v-if="cup && cups"
        v-model="cup"
        label="Cup"
        :options="cups.map((c) => ({ key: c.uid, name: c.name }))"
        class="w-72"
      />
      <ListPicker v-else-if="shapes" v-model="bait" label="Bait" :options="shapes" class="w-60" />
      <ListPicker v-if="shop" v-model="ground" label="Ground" :options="shop.grounds" class="w-48" />
      <ListPicker v-if="shop" v-model="light" label="Light" :options="shop.lights" class="w-56" />
      <RouterLink to="/baits" class="button">To the baits</RouterLink>
    </div>
    <div v-if="sheet" class="grid grid-cols-1 gap-4 sm:grid-cols-2 lg:grid-cols-4" data-testid="sheet">
      <BaitPatch v-for="p in sheet.pictures" :key="p.key" :png="p.png" :name="p.name" :scale="p" :widest-m-m="widest" />
    </div>
    <div v-if="sheet && (after || sheet.next)" class="flex gap-3 pt-4 text-ink">
      <button v-if="after" type="button" class="button" @click="after = ''">First sheet</button>
      <button v-if="sheet.next" type="button" class="button" @click="after = sheet.next">Next sheet</button>
    </div>
  </section>
</template>
