<script setup lang="ts">
import { computed } from 'vue'

import type { BaitPage, ShopInfo } from '@/api/client'
import ListPicker from '@/parts/ListPicker.vue'
import JudgeSwitch from '@/parts/JudgeSwitch.vue'
import RangeField from '@/parts/RangeField.vue'
import ToggleChip from '@/parts/ToggleChip.vue'
import { views } from '@/use/turn'

// From where, on what, in which light and in which water the bait is seen.
interface Seen {
  view: string
  even: boolean
  ground: string
  light: string
  water?: string
  depth: number
  distance: number
  from: string
  cavity: number
}
const props = defineProps<{ look: Seen; shop: ShopInfo; page: BaitPage }>()
const emit = defineEmits<{ see: [change: Record<string, string>] }>()
const pick = (key: 'ground' | 'light') =>
  computed({ get: () => props.look[key], set: (v) => emit('see', { [key]: v }) })
const ground = pick('ground')
const light = pick('light')
const water = computed({ get: () => props.look.water ?? '', set: (v) => emit('see', { water: v }) })
const waters = computed(() => [{ key: '', name: 'in air' }, ...props.shop.waters])
const cavity = computed({
  get: () => String(props.look.cavity),
  set: (v) => emit('see', { cavity: v === '0' ? '' : v }),
})
const cavities = computed(() => [
  { key: '0', name: 'typical cavity' },
  ...Array.from({ length: Math.max(3, props.page.cavities) }, (_, i) => ({
    key: String(i + 1),
    name: props.page.cavities > 1 ? `cavity ${i + 1}` : `shot ${i + 1}`,
  })),
])
</script>

<template>
  <div class="flex flex-wrap items-center gap-2">
    <ToggleChip
      v-for="v in views"
      :key="v.key"
      :on="(look.view || page.moldCard.mainView) === v.key"
      @click="emit('see', { view: v.key })"
      >{{ v.name }}</ToggleChip
    >
    <JudgeSwitch :judge="look.even" @judge="(on) => emit('see', { even: on ? 'yes' : '' })" />
    <!-- Two a row on a phone, and a list opens toward the middle. -->
    <div
      class="basis-full max-sm:grid max-sm:grid-cols-2 max-sm:gap-2 sm:contents max-sm:*:odd:[&_ul]:right-auto max-sm:*:odd:[&_ul]:left-0"
    >
      <ListPicker v-if="!look.water" v-model="ground" label="Ground" :options="shop.grounds" class="sm:w-48" />
      <ListPicker v-model="light" label="Light" :options="shop.lights" class="sm:w-56" />
      <ListPicker v-model="water" label="Water" :options="waters" class="sm:w-44" />
      <ListPicker v-if="page.parts.length > 1" v-model="cavity" label="Cavity" :options="cavities" class="sm:w-44" />
    </div>
    <div v-if="look.water" class="flex basis-full flex-wrap items-center gap-3">
      <ToggleChip
        v-for="f in shop.froms"
        :key="f.key"
        :on="look.from === f.key"
        @click="emit('see', { from: f.key })"
        >{{ f.name }}</ToggleChip
      >
      <RangeField
        label="Depth"
        class="min-w-40"
        :value="look.depth"
        :min="0"
        :max="12"
        :step="0.5"
        :says="`${look.depth} m`"
        @slide="(depth) => emit('see', { depth })"
      />
      <RangeField
        v-if="look.from !== 'above'"
        label="Away"
        class="min-w-40"
        :value="look.distance"
        :min="0"
        :max="8"
        :step="0.25"
        :says="`${look.distance} m`"
        @slide="(distance) => emit('see', { distance })"
      />
    </div>
  </div>
</template>
