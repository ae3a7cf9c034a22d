<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'

import { api, ask, type ReferenceCard } from '@/api/client'
import ListPicker from '@/parts/ListPicker.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import ToggleChip from '@/parts/ToggleChip.vue'

// Tinted, or clear with the layer behind it showing? From two pins of one part.
const props = defineProps<{ reference: ReferenceCard }>()
const open = ref(false)
const chosen = ref(['', ''])
const bare = ref([false, false])
const pins = computed(() =>
  props.reference.pins.map((p) => ({
    key: p.uid,
    name: `${p.name}, ${p.thicknessMM} mm${p.of ? ', other photo' : ''}`,
  })),
)
const pin = (i: number) => chosen.value[i] || props.reference.pins[i]?.uid || ''
const query = computed(() => ({
  one: pin(0),
  other: pin(1),
  oneBare: bare.value[0] ?? false,
  otherBare: bare.value[1] ?? false,
}))
const { data: verdict, error } = useQuery({
  queryKey: ['tint', computed(() => props.reference), query],
  queryFn: () =>
    ask(
      api.GET('/references/{reference}/tint', {
        params: { path: { reference: props.reference.uid }, query: query.value },
      }),
    ),
  enabled: computed(() => open.value && pin(0) !== pin(1)),
  retry: false,
})
const words = {
  tinted: 'Tinted',
  neither: 'Neither fits',
  clear: 'Clear, and what lies behind shows',
  'cannot tell': 'Cannot tell',
}
</script>

<template>
  <section v-if="reference.pins.length > 1" class="flex flex-col gap-2 border-t border-haze pt-4">
    <button type="button" class="button self-start" :aria-expanded="open" @click="open = !open">
      Tinted, or clear?
    </button>
    <template v-if="open">
      <p class="text-slate">Two pins of one part, one much thinner than the other, or one with nothing behind it.</p>
      <div v-for="i in [0, 1]" :key="i" class="flex gap-2">
        <ListPicker
          :model-value="pin(i)"
          :label="i ? 'The other pin' : 'One pin'"
          :options="pins"
          class="min-w-0 flex-1"
          @update:model-value="(v: string) => (chosen[i] = v)"
        />
        <ToggleChip :on="bare[i] ?? false" @click="bare[i] = !bare[i]">Nothing behind</ToggleChip>
      </div>
      <div v-if="verdict && !error" class="says" data-testid="tint">
        <p class="font-semibold">{{ words[verdict.answer] }}</p>
        <p>{{ verdict.says }}</p>
        <p v-if="verdict.next">{{ verdict.next }}</p>
      </div>
      <ProblemNote :says="error?.message" />
    </template>
  </section>
</template>
