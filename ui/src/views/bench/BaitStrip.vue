<script setup lang="ts">
import { computed } from 'vue'

import type { BenchState, Bottle } from '@/api/client'
import ListPicker from '@/parts/ListPicker.vue'
import TurnBox from '@/parts/TurnBox.vue'
import { thickness } from '@/use/amount'
import { useShapes } from '@/use/shop'
import { views } from '@/use/turn'

import FallingDrops from './FallingDrops.vue'

// What the maker will hold: a bait of this cup, thick where it is thick and thin where it is thin.
const props = defineProps<{
  state: BenchState
  bait: string
  view: string
  quick: (view: string) => string
  dripped: { bottle: Bottle } | undefined // what was let fall last
}>()
const emit = defineEmits<{ see: [change: Record<string, string>] }>()
const { data: shapes } = useShapes()
const chosen = computed({ get: () => props.bait || 'paddle-minnow', set: (bait: string) => emit('see', { bait }) })
const main = computed(() => shape.value?.mainView ?? 'side')
const shape = computed(() => shapes.value?.find((s) => s.key === chosen.value))
</script>

<template>
  <div class="flex flex-col">
    <div class="-mx-4 max-lg:min-h-0" :style="{ background: state.bait.paper }">
      <TurnBox
        class="mx-auto max-w-4xl md:max-lg:max-w-xl"
        :sharp="state.bait.png"
        :view="view"
        :main="main"
        :quick="quick"
        :alt="`${shape?.name ?? 'A bait'} of this cup, predicted`"
        @turned="(v) => emit('see', { from: v })"
      >
        <FallingDrops :dripped="dripped" />
      </TurnBox>
    </div>
    <div class="flex flex-wrap items-center gap-x-4 gap-y-2 pt-2">
      <ListPicker v-model="chosen" label="Bait" :options="shapes ?? []" />
      <div class="flex">
        <button
          v-for="v in views"
          :key="v.key"
          type="button"
          class="tab"
          :aria-pressed="(view || main) === v.key"
          @click="emit('see', { from: v.key })"
        >
          {{ v.name }}
        </button>
      </div>
      <p v-if="shape" class="figure min-w-0 flex-1 basis-48 text-sm leading-tight">
        {{ shape.volumeML.toFixed(1) }} ml a bait, {{ thickness(shape.thickestMM, shape.thinnestMM)
        }}<template v-if="state.baits"
          >; <b>{{ state.baits }}</b> from this cup</template
        >
      </p>
    </div>
  </div>
</template>
