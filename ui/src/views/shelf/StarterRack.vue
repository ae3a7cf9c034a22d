<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'

import { api, ask, saysOf } from '@/api/client'
import ProblemNote from '@/parts/ProblemNote.vue'

// A rack to begin with, in one press.
const emit = defineEmits<{ there: [] }>()
const client = useQueryClient()
const says = ref('')
const busy = ref(false)
async function fill() {
  says.value = ''
  busy.value = true
  try {
    await ask(api.POST('/materials/starter'))
    emit('there') // before the shelf is read again, which takes this button away
    await client.invalidateQueries()
  } catch (e) {
    says.value = saysOf(e)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <div class="text-ink">
    <button type="button" class="button button-main" :disabled="busy" @click="fill">Begin with a starter rack</button>
    <p class="says mt-2 max-w-xl">
      A plastisol, twelve liquids, two powders and four flakes, with typical values and plain names. Rename, measure or
      take off each of them later.
    </p>
    <ProblemNote :says="says" />
  </div>
</template>
