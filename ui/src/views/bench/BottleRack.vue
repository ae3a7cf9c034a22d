<script setup lang="ts">
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'

import type { Bottle } from '@/api/client'
import ColourPatch from '@/parts/ColourPatch.vue'
import ToggleChip from '@/parts/ToggleChip.vue'

// The shelf within reach: one tap is one step of it, a drop or a small spoon.
const props = defineProps<{ bottles: Bottle[] }>()
defineEmits<{ drip: [material: string] }>()
const kinds = [
  { key: 'colourant', name: 'Drops' },
  { key: 'powder', name: 'Powders' },
  { key: 'flake', name: 'Flake' },
  { key: 'additive', name: 'Additives' },
] as const
const kind = ref<string>('colourant')
const find = ref('')
// As the trade says it: .015 of an inch.
const size = (inches: number) => `${inches.toFixed(3).replace(/^0/, '')} in`
const shown = computed(() => {
  const words = find.value.trim().toLowerCase()
  return props.bottles.filter((b) =>
    words ? !b.plastisol && `${b.name} ${b.hue}`.toLowerCase().includes(words) : b.kind === kind.value,
  )
})
</script>

<template>
  <div class="flex min-h-0 flex-1 flex-col">
    <div class="flex flex-wrap gap-1 px-3 pt-2">
      <ToggleChip
        v-for="k in kinds"
        :key="k.key"
        class="flex-1 px-1.5!"
        :on="kind === k.key && !find"
        @click="((kind = k.key), (find = ''))"
      >
        {{ k.name }}
      </ToggleChip>
      <input
        v-model="find"
        class="field w-20! flex-1"
        type="search"
        placeholder="Find"
        aria-label="Find on the shelf"
      />
    </div>
    <div class="grid min-h-0 grid-cols-2 content-start gap-2 overflow-y-auto p-3">
      <button
        v-for="b in shown"
        :key="b.uid"
        type="button"
        class="flex min-h-12 items-stretch gap-2 border border-haze bg-white text-left active:bg-fog"
        :aria-label="`${b.colourant ? 'One drop' : b.step} of ${b.name}`"
        :data-bottle="b.uid"
        @click="$emit('drip', b.uid)"
      >
        <ColourPatch :hex="b.swatch.hex" :name="`${b.name} at ${b.dose}`" class="w-5 shrink-0" />
        <span class="self-center py-1 pr-1 leading-tight"
          >{{ b.name
          }}<span v-if="b.flake" class="figure block text-sm text-slate">{{ size(b.flake.sizeIn.value) }}</span></span
        >
      </button>
      <p v-if="!shown.length" class="col-span-2">
        {{ find ? 'Nothing on the shelf is called that.' : 'None on the shelf yet.' }}
        <RouterLink to="/shelf" class="link">To the shelf</RouterLink>
      </p>
    </div>
  </div>
</template>
