<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'

import { api, ask, problemOf, type Problem, type Bottle } from '@/api/client'
import ListPicker from '@/parts/ListPicker.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import { kindList } from '@/use/kinds'

// A bottle from a family of typical values in a few taps, or a dilution of one's own.
const props = defineProps<{ shelf: Bottle[] }>()
const client = useQueryClient()
const router = useRouter()
const { data: families } = useQuery({
  queryKey: ['families'],
  queryFn: () => ask(api.GET('/families')),
  staleTime: Infinity,
})
const choices = [...kindList('one'), { key: 'premix', name: 'A cut of my own' }]
const kind = ref('colourant')
const ofKind = computed(() => (families.value ?? []).filter((f) => f.kind === kind.value))
const family = ref('carbon-black')
watch([kind, families], () => {
  if (!ofKind.value.some((f) => f.key === family.value)) family.value = ofKind.value[0]?.key ?? ''
})
const about = computed(() => ofKind.value.find((f) => f.key === family.value)?.about)
const name = ref('')
const size = ref('.035')
const shapes = [
  { key: 'hex', name: 'hex' },
  { key: 'square', name: 'square' },
  { key: 'irregular', name: 'irregular' },
]
const shape = ref('hex')
const liquids = computed(() => props.shelf.filter((b) => b.colourant).map((b) => ({ key: b.uid, name: b.name })))
const cutOf = ref('')
const clear = ref('10')
const problem = ref<Problem>()

async function add() {
  problem.value = undefined
  try {
    const made =
      kind.value === 'premix'
        ? await ask(
            api.POST('/materials/cuts', {
              body: {
                name: name.value,
                parts: cutOf.value ? [{ material: cutOf.value, share: 1 }] : [],
                clear: Number(clear.value) || 0,
              },
            }),
          )
        : await ask(
            api.POST('/materials', {
              body: {
                family: family.value,
                name: name.value,
                ...(kind.value === 'flake' && { size: size.value, shape: shape.value as 'hex' }),
              },
            }),
          )
    name.value = ''
    await client.invalidateQueries({ queryKey: ['shelf'] })
    await router.push(`/shelf/${made.uid}`)
  } catch (e) {
    problem.value = problemOf(e)
  }
}
</script>

<template>
  <form class="flex flex-col gap-3" @submit.prevent="add">
    <h2>Put something on the shelf</h2>
    <ListPicker v-model="kind" label="Kind" :options="choices" />
    <template v-if="kind === 'premix'">
      <p>One part of</p>
      <ListPicker
        v-model="cutOf"
        label="Bottle that is cut"
        :options="[{ key: '', name: 'Choose a bottle…' }, ...liquids]"
      />
      <label class="flex items-center gap-3">
        in
        <input v-model="clear" class="field figure w-20!" type="text" inputmode="decimal" aria-label="Parts of clear" />
        parts of clear
      </label>
      <p class="text-slate">It knows what it was cut from: refine that bottle and this one follows.</p>
    </template>
    <div v-else>
      <span>Start from a family</span>
      <ListPicker v-model="family" label="Family" :options="ofKind" />
      <p class="pt-1 text-slate">{{ about }}</p>
    </div>
    <div v-if="kind === 'flake'" class="grid grid-cols-2 gap-3">
      <label>
        Size, inches
        <input
          v-model="size"
          class="field figure"
          type="text"
          :aria-invalid="problem?.field === 'size'"
          aria-label="Size"
        />
      </label>
      <div>
        Cut
        <ListPicker v-model="shape" label="Cut" :options="shapes" />
      </div>
    </div>
    <label class="block">
      <span>Your own name for it</span>
      <input v-model="name" class="field" type="text" autocomplete="off" :aria-invalid="problem?.field === 'name'" />
    </label>
    <ProblemNote :says="problem?.message" />
    <button type="submit" class="button button-main">Add it</button>
    <p class="text-slate">
      Typical values are estimates until a bottle is measured. The maker's safety data sheet always comes first.
    </p>
  </form>
</template>
