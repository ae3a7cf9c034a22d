<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { RouterLink } from 'vue-router'

import { api, ask, type Schemas } from '@/api/client'
import ColourPatch from '@/parts/ColourPatch.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import { useAccept } from '@/use/learned'

// What the shop's own batches say of a bottle, beside its figures, and whether cups are worked out with it.
const props = defineProps<{ uid: string }>()
const { data: learned } = useQuery({
  queryKey: ['learned', computed(() => props.uid)],
  queryFn: () => ask(api.GET('/materials/{material}/learned', { params: { path: { material: props.uid } } })),
})
const { accept, says, busy } = useAccept()
const from = (b: Schemas['LearnedFrom']) =>
  b.projectUID ? `/projects/${b.projectUID}` : b.recipeUID ? `/recipes/${b.recipeUID}` : '/batches'
</script>

<template>
  <div v-if="learned" class="flex flex-col gap-2" data-testid="learned">
    <h2>What your batches say</h2>
    <p>{{ learned.says }}</p>
    <template v-if="learned.differs">
      <div>
        <div class="flex h-14">
          <ColourPatch v-for="(s, i) in learned.before" :key="i" :hex="s.hex" name="By its figures" class="flex-1" />
        </div>
        <div class="flex h-14">
          <ColourPatch v-for="(s, i) in learned.after" :key="i" :hex="s.hex" name="By your batches" class="flex-1" />
        </div>
        <p class="pt-1">
          Above: a usual dose by its figures, thin to thick. Below: as your batches have it,
          {{ learned.differs.words || 'the same' }}; ΔE00
          <span class="figure">{{ learned.differs.deltaE00.toFixed(1) }}</span>.
        </p>
      </div>
      <div class="flex flex-wrap items-center gap-3">
        <p class="min-w-60 flex-1">
          {{
            learned.accepted
              ? 'Cups, matches and baits are worked out as your batches have it.'
              : 'Cups, matches and baits are still worked out by its figures.'
          }}
        </p>
        <button
          type="button"
          class="button"
          :class="!learned.accepted && 'button-main'"
          :disabled="busy"
          @click="accept(!learned.accepted, { uid, revision: learned.revision })"
        >
          {{ learned.accepted ? 'Go back to its figures' : 'Accept it' }}
        </button>
      </div>
      <ProblemNote :says="says" />
      <ul class="flex flex-col gap-1">
        <li v-for="b in learned.batches" :key="b.uid">
          <RouterLink :to="from(b)" class="underline underline-offset-4">{{ b.of }}</RouterLink>,
          <span class="figure">{{ b.pouredOn }}</span>:
          {{ b.readings === 1 ? 'one reading' : `${b.readings} readings` }}
          <span v-for="m in b.misfits" :key="m" class="says block">{{ m }}</span>
        </li>
      </ul>
    </template>
  </div>
</template>
