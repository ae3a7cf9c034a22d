<script setup lang="ts">
import type { RunCup, RunLine } from '@/api/client'
import SpoonRow from '@/parts/SpoonRow.vue'

// What goes into the cup in a step: how much it wants, and how much of it was counted in. Counted here or on the bench, it is the same cup.
const props = defineProps<{ cup: RunCup; lines: RunLine[]; pending: (material: string) => number }>()
defineEmits<{ drip: [material: string, drops: number]; all: [line: RunLine] }>()
const counted = (l: RunLine) => Math.round((l.in + (l.drops ? props.pending(l.material) : 0)) * 1000) / 1000
const enough = (l: RunLine) => counted(l) >= l.whole - 1e-6
</script>

<template>
  <ul class="flex flex-col">
    <li
      v-for="l in lines"
      :key="l.material"
      class="flex flex-wrap items-center gap-x-4 gap-y-2 border-t border-haze py-3"
      :data-line="l.material"
    >
      <span class="min-w-40 flex-1 text-xl leading-tight">
        <span class="font-semibold">{{ l.name }}</span>
        <span v-if="l.maxSays && l.when === 'flake'" class="block text-base font-medium">{{ l.maxSays }}</span>
      </span>
      <SpoonRow v-if="l.spoons.length" :spoons="l.spoons" :size="44" />
      <span v-else-if="!l.drops" class="figure text-2xl font-semibold">{{ l.wants }}</span>
      <template v-if="l.drops">
        <span class="figure text-4xl font-semibold" data-testid="count"
          >{{ counted(l) }}<span class="text-2xl font-normal text-slate"> of {{ l.whole }}</span></span
        >
        <span class="flex gap-2">
          <button
            type="button"
            class="button h-16 w-16 text-2xl"
            :aria-label="`One drop of ${l.name} less`"
            :disabled="counted(l) <= 0"
            @click="$emit('drip', l.material, -1)"
          >
            −1
          </button>
          <button
            type="button"
            class="button button-main h-16 w-24 text-2xl"
            :class="enough(l) && 'opacity-60'"
            :aria-label="`One drop of ${l.name} more`"
            @click="$emit('drip', l.material, 1)"
          >
            +1
          </button>
        </span>
      </template>
      <button v-else-if="!enough(l)" type="button" class="button h-14 px-6 text-lg" @click="$emit('all', l)">
        It is in
      </button>
      <span v-else class="text-lg font-semibold">In: {{ l.is }}</span>
    </li>
  </ul>
</template>
