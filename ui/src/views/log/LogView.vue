<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'

import { api, ask } from '@/api/client'
import ColourPatch from '@/parts/ColourPatch.vue'
import EmptyPlace from '@/parts/EmptyPlace.vue'
import ListMore from '@/parts/ListMore.vue'
import ToggleChip from '@/parts/ToggleChip.vue'
import { useLog } from '@/use/lists'

import YearPlot from './YearPlot.vue'

// What was made when, and how it fished: found by words, tags, season and colour.
const typed = ref('')
const find = refDebounced(typed, 200)
const near = ref('')
const nearNow = refDebounced(near, 400)
const season = ref<'spring' | 'summer' | 'autumn' | 'winter'>()
const away = ref(false)
const {
  items: entries,
  more,
  reading,
  next,
} = useLog(
  () => find.value,
  () => season.value,
  () => nearNow.value,
  () => away.value,
)
const { data: year } = useQuery({ queryKey: ['log', 'year'], queryFn: () => ask(api.GET('/log/year')) })
const seasons = ['spring', 'summer', 'autumn', 'winter'] as const
const day = (d: string) =>
  new Date(`${d}T12:00:00`).toLocaleDateString('en-GB', { day: 'numeric', month: 'short', year: 'numeric' })
const asked = computed(() => !!(typed.value || near.value || season.value))
const where = (e: { water?: string; light?: string; forage?: string; rig?: string }) =>
  [e.water && `${e.water} water`, e.light, e.forage, e.rig].filter(Boolean).join(', ')
</script>

<template>
  <section class="mx-auto w-full max-w-6xl p-4">
    <div class="flex flex-wrap items-center gap-3 pb-4">
      <h1 class="mr-auto">Logbook</h1>
      <ToggleChip :on="away" @click="away = !away">What was put away</ToggleChip>
      <RouterLink to="/pours" class="button">Pour</RouterLink>
      <RouterLink to="/log/new" class="button button-main">A day at the water</RouterLink>
    </div>
    <YearPlot v-if="year?.months.length && !asked && !away" :months="year.months" class="mb-4" />
    <div class="mb-4 flex flex-wrap items-center gap-3">
      <input
        v-model="typed"
        class="field min-w-64 flex-1 text-lg"
        type="search"
        placeholder="What worked in stained water in spring?"
        aria-label="Words or #tags"
      />
      <input
        v-model="near"
        class="field w-56!"
        type="search"
        placeholder="a colour: dark olive"
        aria-label="A colour in words"
      />
      <div class="flex gap-2">
        <ToggleChip v-for="s in seasons" :key="s" :on="season === s" @click="season = season === s ? undefined : s">{{
          s
        }}</ToggleChip>
      </div>
    </div>
    <p v-if="entries && !entries.length && asked" class="text-lg">Nothing in the log has all of that.</p>
    <EmptyPlace v-else-if="entries && !entries.length" picture="bait">
      Nothing yet. Every run writes itself down here; add the day it fished.
    </EmptyPlace>
    <ul class="flex flex-col gap-2">
      <li v-for="e in entries" :key="e.uid" class="bg-white" data-testid="entry">
        <RouterLink :to="`/log/${e.uid}`" class="flex min-h-16 items-stretch gap-4">
          <ColourPatch v-if="e.look" :hex="e.look.hex" :name="e.title" class="w-16 shrink-0" />
          <span v-else class="w-16 shrink-0" />
          <span class="min-w-0 flex-1 py-2 pr-3">
            <span class="flex flex-wrap items-baseline gap-x-3">
              <span class="text-lg font-semibold">{{ e.title }}</span>
              <span class="figure text-slate">{{ day(e.day) }}</span>
              <span v-if="e.says" class="figure ml-auto font-semibold">{{ e.says }}</span>
            </span>
            <span v-if="where(e)" class="block">{{ where(e) }}</span>
            <span v-if="e.words" class="block text-slate">{{ e.words }}</span>
            <span v-if="e.tags.length" class="block text-slate">{{ e.tags.map((t) => `#${t}`).join(' ') }}</span>
          </span>
        </RouterLink>
      </li>
    </ul>
    <ListMore class="mt-4" :more="more" :reading="reading" @next="next" />
  </section>
</template>
