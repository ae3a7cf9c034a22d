<script setup lang="ts">
import type { PourPlanned } from '@/api/client'
import ColourPatch from '@/parts/ColourPatch.vue'
import SpoonRow from '@/parts/SpoonRow.vue'
import { degrees } from '@/use/pours'

// Cups that are cooked: how much plastisol, and what goes in, in whole drops and owned spoons.
defineProps<{ planned: PourPlanned; swatches: { hex: string }[]; currency: string }>()
const spoonsOf = (counts: { tsp: number; n: number }[]) => counts.flatMap((c) => Array<number>(c.n).fill(c.tsp))
const whens = { cold: 'cold', colour: '', flake: 'last' }
</script>

<template>
  <ul class="grid gap-4 md:grid-cols-2 xl:grid-cols-3">
    <li v-for="c in planned.cooks" :key="c.letter" class="flex flex-col bg-white" :data-cook="c.letter">
      <div class="flex items-stretch">
        <ColourPatch :hex="swatches[c.of]?.hex ?? '#888'" :name="c.name" class="w-20" />
        <div class="flex-1 p-3">
          <h3 class="text-lg font-semibold">Cup {{ c.letter }}: {{ c.name }}</h3>
          <p class="figure">
            <span class="text-2xl font-semibold">{{ c.cup.volume.ml.toFixed(0) }} ml</span> plastisol
          </p>
          <p v-if="c.leftML" class="figure">and {{ c.leftML.toFixed(0) }} ml that were left of it</p>
        </div>
      </div>
      <ul class="flex flex-col px-3 pb-2">
        <li
          v-for="d in c.doses"
          :key="d.material"
          class="flex min-h-12 flex-wrap items-center gap-x-3 border-t border-fog py-1"
        >
          <span class="figure text-lg font-semibold">{{ d.scoops.counts.length ? '' : d.says }}</span>
          <SpoonRow v-if="d.scoops.counts.length" :spoons="spoonsOf(d.scoops.counts)" :size="26" />
          <span
            >{{ d.name }}<span v-if="whens[d.when]" class="text-slate">, {{ whens[d.when] }}</span></span
          >
          <span v-if="d.when === 'flake' && d.maxC" class="figure ml-auto text-slate">below {{ degrees(d.maxC) }}</span>
        </li>
        <li v-if="!c.doses.length" class="border-t border-fog py-2 text-slate">Nothing goes in.</li>
      </ul>
      <p class="figure mt-auto border-t border-fog px-3 py-2 text-slate">
        {{ c.measuredML.toFixed(0) }} ml finished, shot at {{ degrees(planned.heats[c.of]?.aimC ?? 0) }}.
        {{ c.deltaE00 < 0.05 ? 'As the recipe.' : `ΔE00 ${c.deltaE00.toFixed(1)} off the recipe: ${c.nearness}.` }}
        <template v-if="c.price > 0">{{ c.price.toFixed(2) }} {{ currency }}.</template>
      </p>
    </li>
  </ul>
</template>
