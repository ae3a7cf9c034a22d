<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'

import { api, ask, problemOf, type Problem } from '@/api/client'
import ProblemNote from '@/parts/ProblemNote.vue'

// What was bought, counted or weighed of a bottle, and what runs took of it.
const props = defineProps<{ uid: string; revision: number; liquid: boolean; currency: string }>()
const client = useQueryClient()
const { data } = useQuery({
  queryKey: ['stock', () => props.uid, () => props.revision],
  queryFn: () => ask(api.GET('/materials/{material}/stock/changes', { params: { path: { material: props.uid } } })),
})
const kinds = [
  { key: 'bought' as const, word: 'Bought' },
  { key: 'counted' as const, word: 'Counted' },
  { key: 'weighed' as const, word: 'Weighed' },
]
const kind = ref<'bought' | 'counted' | 'weighed'>('bought')
const typed = ref('')
const price = ref('')
const gross = ref('')
const empty = ref('')
const problem = ref<Problem>()
const grams = (t: string) => Number(t.replace(/g/i, '').replace(',', '.').trim()) || 0
async function take() {
  problem.value = undefined
  try {
    await ask(
      api.POST('/materials/{material}/stock/changes', {
        params: { path: { material: props.uid } },
        body: {
          seen: props.revision,
          kind: kind.value,
          typed: typed.value,
          grossG: grams(gross.value),
          emptyG: grams(empty.value),
          price: kind.value === 'bought' ? price.value : '',
        },
      }),
    )
    typed.value = price.value = gross.value = empty.value = ''
    await client.invalidateQueries()
  } catch (e) {
    problem.value = problemOf(e)
    if (problem.value.status === 409) await client.invalidateQueries()
  }
}
const words = { used: 'Used', bought: 'Bought', counted: 'Counted' }
const number = (v: number) => (Math.abs(v) < 10 ? v.toFixed(2) : v.toFixed(0))
const some = computed(() => data.value?.moves.slice(0, 8) ?? [])
</script>

<template>
  <form class="flex flex-col gap-2 border-t border-haze pt-3" @submit.prevent="take">
    <div class="switch self-start" role="group" aria-label="What happened">
      <button v-for="k in kinds" :key="k.key" type="button" :aria-pressed="kind === k.key" @click="kind = k.key">
        {{ k.word }}
      </button>
    </div>
    <div class="flex flex-wrap items-end gap-2">
      <template v-if="kind === 'weighed'">
        <label class="w-28"
          >With bottle, g<input v-model="gross" class="field figure" type="text" inputmode="decimal"
        /></label>
        <label class="w-28"
          >Empty, g<input v-model="empty" class="field figure" type="text" inputmode="decimal"
        /></label>
      </template>
      <template v-else>
        <label class="w-32"
          >How much<input v-model="typed" class="field figure" type="text" :placeholder="liquid ? '4 fl oz' : '2 oz'"
        /></label>
        <label v-if="kind === 'bought'" class="w-28"
          >For, {{ currency
          }}<input v-model="price" class="field figure" type="text" inputmode="decimal" placeholder="9,50"
        /></label>
      </template>
      <button type="submit" class="button">Write it down</button>
    </div>
    <ProblemNote :says="problem?.message" />
    <p v-for="(m, i) in some" :key="i" class="figure grid grid-cols-[6rem_1fr_auto] gap-2 border-t border-fog pt-1">
      <span>{{ new Date(m.at).toLocaleDateString('en-GB', { day: 'numeric', month: 'short' }) }}</span>
      <span
        >{{ words[m.kind] }} {{ number(Math.abs(m.amount)) }} {{ data?.unit
        }}<template v-if="m.pour"
          >,
          <RouterLink :to="`/pours/${m.pour}/run`" class="underline underline-offset-4">{{
            m.for
          }}</RouterLink></template
        ></span
      >
      <span class="text-slate">{{ number(m.left) }} {{ data?.unit }} left</span>
    </p>
  </form>
</template>
