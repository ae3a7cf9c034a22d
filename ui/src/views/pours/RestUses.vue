<script setup lang="ts">
import { useQueries } from '@tanstack/vue-query'
import { computed } from 'vue'

import { api, ask, type PourCook, type PourOrder } from '@/api/client'

// What is left over of a cup is plastic already hot: how many of which bait it is still good for.
const props = defineProps<{ cooks: PourCook[]; cups: PourOrder['cups'] }>()
const rests = computed(() => props.cooks.filter((c) => c.restWorth))
const answers = useQueries({
  queries: computed(() =>
    rests.value.map((c) => {
      const { from, recipe } = props.cups[c.of]!
      const body = { ...(from ? { cup: from } : { recipe: recipe ?? '' }), volume: `${c.restML.toFixed(0)} ml` }
      return {
        queryKey: ['pours', 'rest', body],
        queryFn: async () => (await ask(api.POST('/pours/how-many', { body }))).says,
        enabled: !!(from || recipe),
        retry: false,
      }
    }),
  ),
})
</script>

<template>
  <p v-for="(c, i) in rests" v-show="answers[i]?.data" :key="c.letter" class="pt-2" data-testid="rest">
    {{ c.restML.toFixed(0) }} ml of {{ c.name }} stay over: {{ answers[i]?.data }}.
  </p>
</template>
