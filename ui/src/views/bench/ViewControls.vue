<script setup lang="ts">
import { computed } from 'vue'

import type { BenchState, ShopInfo } from '@/api/client'
import ListPicker from '@/parts/ListPicker.vue'
import RangeField from '@/parts/RangeField.vue'

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
</script>

<template>
  <div class="flex flex-wrap items-center gap-2">
    <ListPicker v-model="ground" label="Ground" :options="shop.grounds" />
    <ListPicker v-model="light" label="Light" :options="shop.lights" />
    <ListPicker v-model="state" label="State" :options="shop.states" />
    <ListPicker v-model="water" label="Water" :options="waters" />
    <RangeField
      label="Tilt"
      class="max-w-56 min-w-40"
      :value="look.tiltDeg"
      :min="0"
      :max="60"
      :step="5"
      :says="`${look.tiltDeg}°`"
      @slide="(tilt) => emit('see', { tilt })"
    />
    <div v-if="look.water" class="flex basis-full gap-6">
      <RangeField
        label="Depth"
        :value="look.depthM"
        :min="0"
        :max="12"
        :step="0.5"
        :says="`${look.depthM} m`"
        @slide="(depth) => emit('see', { depth })"
      />
      <RangeField
        label="Seen from"
        about="Distance"
        :value="look.distanceM"
        :min="0"
        :max="10"
        :step="0.5"
        :says="`${look.distanceM} m`"
        @slide="(distance) => emit('see', { distance })"
      />
    </div>
  </div>
</template>
