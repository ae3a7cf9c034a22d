<script setup lang="ts">
import { computed, ref } from 'vue'

import { api, saysOf, type ReferenceCard } from '@/api/client'
import ProblemNote from '@/parts/ProblemNote.vue'
import { useReferenceChange } from '@/use/reference'

// Several baits of one bag: how far they differ among themselves, and the one that is not typical.
const props = defineProps<{ reference: ReferenceCard }>()
const emit = defineEmits<{ set: [reference: ReferenceCard] }>()
const says = ref('')
const change = useReferenceChange(
  () => props.reference,
  (r) => emit('set', r),
)
const aside = computed(() => [...new Set(props.reference.pins.filter((p) => p.aside).map((p) => p.sample))])
async function put(sample: number, away: boolean) {
  try {
    await change((seen) =>
      api.POST('/references/{reference}/aside', {
        params: { path: { reference: props.reference.uid } },
        body: { seen, sample, aside: away },
      }),
    )
    says.value = ''
  } catch (e) {
    says.value = saysOf(e)
  }
}
</script>

<template>
  <section v-if="reference.bag || aside.length" class="flex flex-col gap-2 border-t border-haze pt-4" data-testid="bag">
    <h2>The bag’s own spread</h2>
    <template v-if="reference.bag">
      <p v-for="p in reference.bag.parts" :key="p.part">
        <span class="first-letter:uppercase">{{ p.part }}</span>, {{ p.samples }} baits: a typical one lies ΔE00
        <span class="figure">{{ p.deltaE00.toFixed(1) }}</span> from their middle. Within that is good enough.
      </p>
      <p class="says">{{ reference.bag.says }}</p>
      <button v-if="reference.bag.odd" type="button" class="button self-start" @click="put(reference.bag!.odd!, true)">
        Set bait {{ reference.bag.odd }} aside
      </button>
    </template>
    <p v-for="s in aside" :key="s">
      Bait {{ s }} is set aside.
      <button type="button" class="link min-h-11" @click="put(s, false)">Take it back</button>
    </p>
    <ProblemNote :says="says" />
  </section>
</template>
