<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'

import { api, ask, type Step } from '@/api/client'
import ProblemNote from '@/parts/ProblemNote.vue'
import SheetDialog from '@/parts/SheetDialog.vue'
import type { View } from '@/use/cup'

// The cup with more and more of one material, side by side as baits; a tap takes a rung to the bench.
const props = defineProps<{ cup: string; view: View; material: string; name: string; dose: string }>()
const emit = defineEmits<{ close: []; step: [step: Step] }>()
const { data: ladder, error } = useQuery({
  queryKey: ['ladder', props.cup, props.material, props.dose, props.view],
  queryFn: () =>
    ask(
      api.GET('/cups/{cup}/ladder', {
        params: { path: { cup: props.cup }, query: { ...props.view, material: props.material } },
      }),
    ),
  retry: false,
})
const says = computed(() => error.value?.message)
function take(typed: string) {
  const material = props.material
  emit('step', typed ? { kind: 'dose', material, typed } : { kind: 'remove', material })
  emit('close')
}
</script>

<template>
  <SheetDialog :title="`More and more ${name}`" wide @close="emit('close')">
    <p class="text-slate">The same cup otherwise. Tap one to take it to the bench.</p>
    <ProblemNote :says="says" />
    <p v-if="!ladder && !says" class="py-8" role="status">Drawing…</p>
    <ul v-else-if="ladder" class="grid grid-cols-1 gap-3 pt-3 sm:grid-cols-2" data-testid="ladder">
      <li v-for="p in ladder.pictures" :key="p.name">
        <button
          type="button"
          class="w-full rounded-xl p-1.5 text-left"
          :class="p.key === dose ? 'ring-3 ring-press' : 'ring-1 ring-haze'"
          :aria-label="`Take ${p.name}`"
          @click="take(p.key ?? '')"
        >
          <img :src="p.png" :alt="`With ${p.name}`" class="w-full rounded-lg" />
          <span class="figure flex items-baseline gap-2 px-1 pt-1"
            ><b class="text-lg">{{ p.name }}</b
            ><span v-if="p.key === dose">as it is</span
            ><span class="ml-auto text-sm text-slate">{{ p.says }}</span></span
          >
        </button>
      </li>
    </ul>
  </SheetDialog>
</template>
