<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'

import { api, ask, type BenchState } from '@/api/client'
import ColourPatch from '@/parts/ColourPatch.vue'

// The quick looks at a hot cup, as they are predicted for this one: so that what is seen can be compared with what
// should be seen.
const props = defineProps<{ state: BenchState }>()
const { data: tests } = useQuery({
  queryKey: ['tests', () => props.state.uid, () => props.state.head, () => props.state.look.light],
  queryFn: () =>
    ask(
      api.GET('/cups/{cup}/tests', {
        params: { path: { cup: props.state.uid }, query: { light: props.state.look.light as 'D65' } },
      }),
    ),
  placeholderData: (was) => was,
})
</script>

<template>
  <ul class="flex min-h-0 flex-1 flex-col gap-3 overflow-y-auto p-3" aria-label="Quick tests, predicted">
    <li v-for="t in tests" :key="t.key" class="flex gap-3" :data-test="t.key">
      <div class="surround flex h-20 w-36 shrink-0 p-2">
        <ColourPatch
          v-for="(s, i) in t.swatch"
          :key="i"
          :hex="s.hex"
          :name="`${t.name}, ${t.labels[i]}`"
          class="flex-1"
        />
      </div>
      <div class="min-w-0 leading-tight">
        <p class="font-semibold">{{ t.name }}</p>
        <p>{{ t.says }}</p>
        <p class="text-slate">{{ t.about }}</p>
      </div>
    </li>
  </ul>
</template>
