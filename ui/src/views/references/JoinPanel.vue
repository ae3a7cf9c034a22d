<script setup lang="ts">
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'

import { api, saysOf, type ReferenceCard } from '@/api/client'
import ListPicker from '@/parts/ListPicker.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import { useReferences } from '@/use/lists'
import { useReferenceChange } from '@/use/reference'

// Two photos of one bait, such as its back and its belly, count as one reference: the pins of both stand together.
const props = defineProps<{ reference: ReferenceCard }>()
const emit = defineEmits<{ set: [reference: ReferenceCard] }>()
const open = ref(false)
const says = ref('')
const { items: references } = useReferences(open)
const choices = computed(() =>
  (references.value ?? [])
    .filter((r) => r.uid !== props.reference.uid && !r.with)
    .map((r) => ({ key: r.uid, name: r.name })),
)
const change = useReferenceChange(
  () => props.reference,
  (r) => emit('set', r),
)
async function join(uid: string) {
  says.value = ''
  try {
    const params = { path: { reference: props.reference.uid } }
    await change((seen) => api.PUT('/references/{reference}/with', { params, body: { seen, with: uid } }))
    open.value = false
  } catch (e) {
    says.value = saysOf(e)
  }
}
const chosen = computed({ get: () => '', set: (uid: string) => void join(uid) })
</script>

<template>
  <div class="flex flex-wrap items-center gap-3 pt-3" data-testid="join">
    <template v-if="reference.with">
      <p>
        A second photo of
        <RouterLink :to="`/references/${reference.with}`" class="underline underline-offset-4">the same bait</RouterLink
        >; its pins count there, too.
      </p>
      <button type="button" class="button text-ink" @click="join('')">Take them apart</button>
    </template>
    <template v-else-if="reference.joined?.length">
      <p>
        Joined to it:
        <RouterLink
          v-for="(uid, i) in reference.joined"
          :key="uid"
          :to="`/references/${uid}`"
          class="mr-2 underline underline-offset-4"
          >photo {{ i + 2 }}</RouterLink
        >
      </p>
    </template>
    <template v-else>
      <button v-if="!open" type="button" class="min-h-11 underline underline-offset-4" @click="open = true">
        It is another photo of a bait that is here already
      </button>
      <template v-else>
        <ListPicker
          v-model="chosen"
          label="The same bait as"
          class="w-72"
          :options="[{ key: '', name: 'The same bait as…' }, ...choices]"
        />
        <button type="button" class="button text-ink" @click="open = false">Never mind</button>
      </template>
    </template>
    <ProblemNote class="basis-full text-ink" :says="says" />
  </div>
</template>
