<script setup lang="ts">
import { RouterLink } from 'vue-router'

import type { Taught } from '@/api/client'
import ColourPatch from '@/parts/ColourPatch.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import { useAccept } from '@/use/learned'

// What the batches say of each bottle, to be taken over into what is predicted, or not.
defineProps<{ list: Taught[] }>()
const { accept, says, busy } = useAccept()
</script>

<template>
  <section class="flex flex-col gap-2" data-testid="taught">
    <h2>What your batches say of the bottles</h2>
    <p class="max-w-3xl text-slate">
      Left by its own figures, right as the batches have it. Accept a bottle, and the bench, matches, recipes and baits
      are worked out with it from now on; batches that were poured keep what was known then.
    </p>
    <ProblemNote :says="says" />
    <ul class="grid gap-3 md:grid-cols-2 xl:grid-cols-3">
      <li v-for="t in list" :key="t.uid" class="flex items-center gap-3 bg-white p-2" data-taught>
        <div class="flex h-14 w-20 shrink-0">
          <ColourPatch :hex="t.before.hex" :name="`${t.name}, by its figures`" class="flex-1" />
          <ColourPatch :hex="t.after.hex" :name="`${t.name}, as the batches have it`" class="flex-1" />
        </div>
        <p class="min-w-0 flex-1 leading-tight">
          <RouterLink :to="`/shelf/${t.uid}`" class="font-semibold underline underline-offset-4">{{
            t.name
          }}</RouterLink><br />
          <span class="text-sm">{{ t.says }}</span>
        </p>
        <button
          type="button"
          class="button"
          :class="!t.accepted && 'button-main'"
          :disabled="busy"
          :aria-label="`${t.accepted ? 'Refuse' : 'Accept'} ${t.name}`"
          @click="accept(!t.accepted, t)"
        >
          {{ t.accepted ? 'Refuse' : 'Accept' }}
        </button>
      </li>
    </ul>
  </section>
</template>
