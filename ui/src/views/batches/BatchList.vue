<script setup lang="ts">
import { RouterLink } from 'vue-router'

import type { BatchCard } from '@/api/client'
import KeepMenu from '@/parts/KeepMenu.vue'
import { amount } from '@/use/amount'
import { useShelf } from '@/use/shop'

import BatchOutcome from './BatchOutcome.vue'
import BatchPhotos from './BatchPhotos.vue'
import BatchReadings from './BatchReadings.vue'

defineProps<{ batches: BatchCard[]; named?: boolean }>()
const { nameOf } = useShelf()
const additions = (n: number) => (n === 1 ? 'one addition' : `${n} additions`)
</script>

<template>
  <ul class="flex flex-col gap-3">
    <li v-for="b in batches" :key="b.uid" class="flex flex-wrap gap-4 bg-white p-3" data-batch>
      <BatchPhotos :batch="b" />
      <div class="min-w-60 flex-1">
        <p>
          <span class="figure">{{ b.pouredOn }}</span>, <span class="figure">{{ b.volume.typed }}</span><template
            v-if="!named && b.recipeUID"
          >
            of version {{ b.recipeRevision }}</template
          ><template v-else-if="b.recipeUID">
            of <RouterLink :to="`/recipes/${b.recipeUID}`" class="link">{{ b.recipeName }}</RouterLink></template
          ><template v-if="b.projectUID">
            for <RouterLink :to="`/projects/${b.projectUID}`" class="link">{{ b.projectName }}</RouterLink>,
            {{ b.part }}</template
          >, judged after {{ b.rested }}
        </p>
        <p class="text-lg">{{ b.verdict || 'No verdict yet' }}</p>
        <p>
          <template v-if="b.outcome.unknown">Nobody knows what went in.</template>
          <template v-else>In {{ additions(b.additions.length) }}:</template>
          <template v-for="(d, i) in b.sum" :key="d.material"
            >{{ i ? ', ' : ' ' }}<span class="figure">{{ amount(d) }}</span> {{ nameOf(d.material) }}</template
          >
        </p>
        <p v-for="s in b.solved" :key="s">{{ s }}</p>
        <p v-if="b.drift" class="text-slate">
          What went in, predicted beside the recipe: {{ b.drift.nearness
          }}<template v-if="b.drift.words">, {{ b.drift.words }}</template
          >, ΔE00 <span class="figure">{{ b.drift.deltaE00.toFixed(1) }}</span>
        </p>
      </div>
      <KeepMenu what="batch" :uid="b.uid" :name="b.verdict || `Batch of ${b.pouredOn}`" :kept="b.kept" long right />
      <BatchReadings :batch="b" class="basis-full"><BatchOutcome :batch="b" /></BatchReadings>
    </li>
  </ul>
</template>
