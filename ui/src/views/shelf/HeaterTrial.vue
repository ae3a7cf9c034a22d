<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'

import { api, ask, saysOf } from '@/api/client'
import ProblemNote from '@/parts/ProblemNote.vue'

// One burst and two readings find what of a microwave's power arrives, and how fast a cup cools.
const props = defineProps<{ heater: number; seen: number }>()
const emit = defineEmits<{ done: [] }>()
const client = useQueryClient()
const volume = ref('1 cup')
const start = ref('70F')
const burst = ref('95')
const one = ref('')
const afterOne = ref('10')
const two = ref('')
const afterTwo = ref('180')
const says = ref('')
async function find() {
  says.value = ''
  try {
    const kit = await ask(
      api.POST('/equipment/heaters/{heater}/trial', {
        params: { path: { heater: props.heater } },
        body: {
          seen: props.seen,
          volume: volume.value,
          start: start.value,
          burstS: Number(burst.value) || 0,
          reading1: one.value,
          afterS1: Number(afterOne.value) || 0,
          reading2: two.value,
          afterS2: Number(afterTwo.value) || 0,
        },
      }),
    )
    client.setQueryData(['equipment'], kit)
    await client.invalidateQueries({ queryKey: ['pours'] })
    emit('done')
  } catch (e) {
    says.value = saysOf(e)
  }
}
</script>

<template>
  <form class="flex flex-wrap items-end gap-3 border-t border-fog pt-3" @submit.prevent="find">
    <label class="w-28">Plastisol<input v-model="volume" class="field figure" type="text" /></label>
    <label class="w-24">at<input v-model="start" class="field figure" type="text" /></label>
    <label class="w-24">Burst, s<input v-model="burst" class="field figure" type="text" inputmode="numeric" /></label>
    <label class="w-32"
      >Stirred, it shows<input v-model="one" class="field figure" type="text" placeholder="262F"
    /></label>
    <label class="w-24"
      >after, s<input v-model="afterOne" class="field figure" type="text" inputmode="numeric"
    /></label>
    <label class="w-32">and then<input v-model="two" class="field figure" type="text" placeholder="240F" /></label>
    <label class="w-24"
      >after, s<input v-model="afterTwo" class="field figure" type="text" inputmode="numeric"
    /></label>
    <button type="submit" class="button button-main">Find it</button>
    <ProblemNote class="basis-full" :says="says" />
  </form>
</template>
