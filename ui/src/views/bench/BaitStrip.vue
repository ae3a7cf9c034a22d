<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRouter } from 'vue-router'

import { api, ask, type BenchState } from '@/api/client'
import ListPicker from '@/parts/ListPicker.vue'
import ToggleChip from '@/parts/ToggleChip.vue'
import { thickness } from '@/use/amount'
import { useShapes } from '@/use/shop'

// What the maker will hold: a bait of this cup, thick where it is thick and thin where it is thin.
const props = defineProps<{ state: BenchState; bait: string; view: string }>()
const emit = defineEmits<{ see: [change: Record<string, string>]; resize: [from: string] }>()
const router = useRouter()
const client = useQueryClient()
const { data: shapes } = useShapes()
const chosen = computed({ get: () => props.bait || 'paddle-minnow', set: (bait: string) => emit('see', { bait }) })
const sides = [
  { key: 'side', name: 'Side' },
  { key: 'back', name: 'Back' },
  { key: 'belly', name: 'Belly' },
]
const from = computed(() => props.view || (shape.value?.mainView ? 'back' : 'side'))
async function layers() {
  const b = await ask(api.POST('/baits', { body: { cup: props.state.uid, mold: chosen.value, way: 'laminate' } }))
  await client.invalidateQueries({ queryKey: ['baits'] })
  await router.push(`/baits/${b.uid}`)
}
const shape = computed(() => shapes.value?.find((s) => s.key === chosen.value))
</script>

<template>
  <div class="flex flex-wrap items-start gap-4">
    <img
      :src="state.bait.png"
      :alt="`${shape?.name ?? 'A bait'} of this cup, predicted`"
      class="min-w-0 flex-1 basis-80 object-contain"
      data-testid="bait"
    />
    <div class="flex w-64 flex-col gap-2 max-sm:w-full">
      <ListPicker v-model="chosen" label="Bait" :options="shapes ?? []" />
      <div class="flex gap-2">
        <ToggleChip
          v-for="v in sides"
          :key="v.key"
          class="flex-1"
          :on="from === v.key"
          @click="emit('see', { from: v.key })"
          >{{ v.name }}</ToggleChip
        >
      </div>
      <p v-if="shape" class="leading-tight">
        <span class="figure">{{ shape.volumeML.toFixed(1) }} ml</span>,
        {{ thickness(shape.thickestMM, shape.thinnestMM)
        }}<template v-if="state.baits"
          >; this cup makes about <span class="figure">{{ state.baits }}</span></template
        >
      </p>
      <button type="button" class="self-start underline underline-offset-4" @click="emit('resize', chosen)">
        Same look in another bait
      </button>
      <button type="button" class="self-start underline underline-offset-4" @click="layers">
        Two colours in one bait
      </button>
    </div>
  </div>
</template>
