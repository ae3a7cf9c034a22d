<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'

import { api, ask, saysOf, type BatchCard } from '@/api/client'
import ColourPatch from '@/parts/ColourPatch.vue'
import ProblemNote from '@/parts/ProblemNote.vue'

import ReadingDialog from './ReadingDialog.vue'

// What was read of a batch, each beside what was predicted, and the way to one more.
const props = defineProps<{ batch: BatchCard }>()
const client = useQueryClient()
const adding = ref(false)
const says = ref<string>()
const justRead = ref(false) // whoever reads is told whether once more is worth it; later that would be a nuisance

async function kept(one = true) {
  adding.value = false
  justRead.value = one
  await client.invalidateQueries() // what it teaches shows everywhere
}
async function takeOut(reading: string) {
  says.value = undefined
  try {
    await ask(
      api.DELETE('/batches/{batch}/readings/{reading}', { params: { path: { batch: props.batch.uid, reading } } }),
    )
    await kept(false)
  } catch (e) {
    says.value = saysOf(e)
  }
}
</script>

<template>
  <div class="flex flex-col gap-2" data-testid="readings">
    <p v-if="batch.read.length" class="text-slate">
      {{
        batch.outcome.unknown ? 'As read:' : 'Left as read, right as predicted by the bottles as they were known then:'
      }}
    </p>
    <ul v-if="batch.read.length" class="flex flex-col gap-2">
      <li v-for="r in batch.read" :key="r.uid" class="flex items-center gap-3" data-reading>
        <div class="flex h-11 w-16 shrink-0 sm:w-24">
          <ColourPatch :hex="r.is.hex" :name="`${r.name}, as read`" class="flex-1" />
          <ColourPatch
            v-if="!batch.outcome.unknown"
            :hex="r.predicted.hex"
            :name="`${r.name}, as predicted`"
            class="flex-1"
          />
        </div>
        <p class="min-w-0 flex-1 leading-tight">
          {{ r.name }}, {{ r.where }}<br />
          <span v-if="!batch.outcome.unknown" class="text-slate"
            >Read {{ r.differs.words || 'just as predicted'
            }}<template v-if="r.differs.words"> than predicted</template>, ΔE00
            <span class="figure">{{ r.differs.deltaE00.toFixed(1) }}</span></span
          >
        </p>
        <button type="button" class="button round" :aria-label="`Take out ${r.name}`" @click="takeOut(r.uid)">×</button>
      </li>
    </ul>
    <ProblemNote :says="says" />
    <p v-if="justRead && batch.again" class="text-slate" role="status">{{ batch.again }}</p>
    <div class="flex flex-wrap gap-2">
      <button type="button" class="button" data-testid="add-reading" @click="adding = true">Add a reading</button>
      <slot />
    </div>
    <ReadingDialog v-if="adding" :batch="batch" @close="adding = false" @kept="kept()" />
  </div>
</template>
