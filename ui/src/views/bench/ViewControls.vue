<script setup lang="ts">
import { computed } from 'vue'

import type { BenchState, ShopInfo } from '@/api/client'
import ListPicker from '@/parts/ListPicker.vue'

// How the cup is looked at: on what, in which light, in which state, how far tilted, in which water.
const props = defineProps<{ look: BenchState['look']; shop: ShopInfo }>()
const emit = defineEmits<{ see: [change: Record<string, string>] }>()

const pick = (key: 'ground' | 'light' | 'state') =>
  computed({ get: () => props.look[key], set: (v) => emit('see', { [key]: v }) })
const ground = pick('ground')
const light = pick('light')
const state = pick('state')
const waters = computed(() => [{ key: '', name: 'in air' }, ...props.shop.waters])
const water = computed({
  get: () => props.look.water ?? '',
  set: (v: string) =>
    emit(
      'see',
      v
        ? { water: v, depth: props.look.depthM ? String(props.look.depthM) : '1', distance: '1' }
        : { water: '', depth: '', distance: '' },
    ),
})
const say = (key: string, e: Event) => emit('see', { [key]: (e.target as HTMLInputElement).value })
</script>

<template>
  <div class="flex flex-wrap items-center gap-2">
    <ListPicker v-model="ground" label="Ground" :options="shop.grounds" class="min-w-44 flex-1" />
    <ListPicker v-model="light" label="Light" :options="shop.lights" class="min-w-52 flex-1" />
    <ListPicker v-model="state" label="State" :options="shop.states" class="min-w-28 flex-1" />
    <ListPicker v-model="water" label="Water" :options="waters" class="min-w-32 flex-1" />
    <label class="flex min-h-11 min-w-40 flex-1 items-center gap-2 whitespace-nowrap">
      Tilt
      <input
        type="range"
        min="0"
        max="60"
        step="5"
        class="h-11 w-full min-w-20 accent-press"
        aria-label="Tilt"
        :value="look.tiltDeg"
        @input="say('tilt', $event)"
      />
      <span class="figure w-9 text-right">{{ look.tiltDeg }}°</span>
    </label>
    <template v-if="look.water">
      <label class="flex min-h-11 basis-full items-center gap-2">
        <span class="w-24">Depth</span>
        <input
          type="range"
          min="0"
          max="12"
          step="0.5"
          class="h-11 flex-1 accent-press"
          aria-label="Depth"
          :value="look.depthM"
          @input="say('depth', $event)"
        />
        <span class="figure w-16 text-right">{{ look.depthM }} m</span>
        <span class="w-24 pl-4">Seen from</span>
        <input
          type="range"
          min="0"
          max="10"
          step="0.5"
          class="h-11 flex-1 accent-press"
          aria-label="Distance"
          :value="look.distanceM"
          @input="say('distance', $event)"
        />
        <span class="figure w-16 text-right">{{ look.distanceM }} m</span>
      </label>
    </template>
  </div>
</template>
