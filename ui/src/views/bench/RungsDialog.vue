<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'

import { api, ask, type Step } from '@/api/client'
import ProblemNote from '@/parts/ProblemNote.vue'
import SheetDialog from '@/parts/SheetDialog.vue'
import type { View } from '@/use/cup'

// The cup with more and more of one material, or its flake in other bases, side by side as baits; a tap takes one to
// the bench.
const props = defineProps<{
  what: 'ladder' | 'bases'
  cup: string
  view: View
  material: string
  name: string
  dose: string
}>()
const emit = defineEmits<{ close: []; step: [step: Step] }>()
const query = { params: { path: { cup: props.cup }, query: { ...props.view, material: props.material } } }
const { data: rungs, error } = useQuery({
  queryKey: [props.what, props.cup, props.material, props.dose, props.view],
  queryFn: () =>
    ask(props.what === 'ladder' ? api.GET('/cups/{cup}/ladder', query) : api.GET('/cups/{cup}/bases', query)),
  retry: false,
})
const says = computed(() => error.value?.message)
const title = computed(() => (props.what === 'ladder' ? `More and more ${props.name}` : `${props.name} in other bases`))
function take(step: Step | undefined) {
  if (step) emit('step', step)
  emit('close')
}
</script>

<template>
  <SheetDialog :title="title" wide @close="emit('close')">
    <p class="text-slate">
      <template v-if="what === 'ladder'">The same cup otherwise.</template>
      <template v-else>As much flake in each.</template>
      Tap one to take it to the bench.
    </p>
    <ProblemNote :says="says" />
    <p v-if="!rungs && !says" class="py-8" role="status">Drawing…</p>
    <ul v-else-if="rungs" class="grid grid-cols-1 gap-3 pt-3 sm:grid-cols-2" :data-testid="what">
      <li v-for="p in rungs.pictures" :key="p.name">
        <button
          type="button"
          class="w-full rounded-xl p-1.5 text-left"
          :class="p.step ? 'ring-1 ring-haze' : 'ring-3 ring-press'"
          :aria-label="`Take ${p.name}`"
          @click="take(p.step)"
        >
          <img :src="p.png" :alt="`With ${p.name}`" class="w-full rounded-lg" />
          <span class="figure flex items-baseline gap-2 px-1 pt-1"
            ><b class="text-lg">{{ p.name }}</b
            ><span v-if="what === 'ladder' && !p.step">as it is</span
            ><span class="ml-auto text-sm text-slate">{{ p.says }}</span></span
          >
        </button>
      </li>
    </ul>
  </SheetDialog>
</template>
