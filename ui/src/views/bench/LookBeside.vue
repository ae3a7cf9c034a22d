<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink } from 'vue-router'

import type { BenchState } from '@/api/client'
import ColourPatch from '@/parts/ColourPatch.vue'

// The prediction beside its target: a split swatch, the difference in words, then the figure.
const props = defineProps<{ state: BenchState }>()
defineEmits<{ untarget: [] }>()

const look = computed(() => props.state.look)
const target = computed(() => props.state.cup.target)
const lab = (c: { L: number; a: number; b: number }) => `L ${c.L.toFixed(1)} a ${c.a.toFixed(1)} b ${c.b.toFixed(1)}`
const elsewhere = computed(
  () =>
    target.value && (target.value.thicknessMM !== look.value.thicknessMM || target.value.ground !== look.value.ground),
)
</script>

<template>
  <div class="flex flex-wrap gap-4">
    <div class="min-w-64 flex-1 basis-80">
      <div class="flex h-40">
        <ColourPatch
          :hex="look.swatch.hex"
          name="This cup, predicted"
          class="flex-1"
          data-testid="prediction"
          :data-hex="look.swatch.hex"
        />
        <ColourPatch
          v-if="target && state.targetSwatch"
          :hex="state.targetSwatch.hex"
          name="Target"
          class="flex-1"
          data-testid="target"
          :data-hex="state.targetSwatch.hex"
        />
      </div>
      <div class="flex pt-1">
        <p class="flex-1">This cup, predicted</p>
        <p v-if="target" class="min-w-0 flex-1 truncate">{{ target.name }}</p>
      </div>
      <div class="figure flex whitespace-pre-wrap">
        <p class="flex-1">{{ lab(look.swatch.lab) }}</p>
        <p v-if="target" class="flex-1">{{ lab(target.lab) }}</p>
      </div>
    </div>
    <div class="min-w-56 flex-1 basis-60">
      <template v-if="look.against">
        <p class="text-2xl leading-tight font-semibold" data-testid="nearness">{{ look.against.nearness }}</p>
        <p v-if="look.against.words" class="text-lg" data-testid="lean">{{ look.against.words }}</p>
        <p class="pt-1">
          <span class="figure text-3xl" data-testid="delta">{{ look.against.deltaE00.toFixed(1) }}</span> ΔE00
        </p>
      </template>
      <template v-else>
        <p class="text-lg">No target yet.</p>
        <p>
          <RouterLink to="/references" class="text-inherit underline underline-offset-4"
            >Pin one on a reference</RouterLink
          >
        </p>
      </template>
      <p class="pt-2">
        <span class="figure">{{ (100 * look.seeThrough).toFixed(0) }} %</span> of the light comes through at
        <span class="figure">{{ look.thicknessMM }} mm</span>
      </p>
      <p v-if="elsewhere && target" class="pt-1">
        The target was read at {{ target.thicknessMM }} mm,
        {{ target.ground === 'against' ? 'against the light' : `over ${target.ground}` }}.
      </p>
      <p class="pt-1">{{ look.sure }}</p>
      <button v-if="target" type="button" class="min-h-11 underline underline-offset-4" @click="$emit('untarget')">
        Take the target away
      </button>
    </div>
  </div>
  <ul v-if="look.watch.length" class="says text-ink" aria-label="Watch out">
    <li v-for="w in look.watch" :key="w">{{ w }}</li>
  </ul>
</template>
