<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'

import { api, ask, Problem, saysOf, type Kit } from '@/api/client'
import ListPicker from '@/parts/ListPicker.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import TypedField from '@/parts/TypedField.vue'
import { useKeeping } from '@/use/keeping'
import { useShelf, useShop } from '@/use/shop'

import EquipmentForm from './EquipmentForm.vue'

// What a maker measures with: the spoons they own, what heaped means to them, and measures of their own.
const client = useQueryClient()
const { bottles } = useShelf()
const { data: kit } = useQuery({ queryKey: ['kit'], queryFn: () => ask(api.GET('/kit')) })
const usual = [
  { tsp: 3, name: '1 tbsp' },
  { tsp: 1, name: '1 tsp' },
  { tsp: 0.5, name: '1/2' },
  { tsp: 0.25, name: '1/4' },
  { tsp: 0.125, name: '1/8' },
  { tsp: 0.0625, name: '1/16' },
  { tsp: 0.03125, name: '1/32' },
  { tsp: 0.015625, name: '1/64' },
]
const says = ref('')
const { data: shop } = useShop()
const keeping = useKeeping()
async function tell(work: () => Promise<Kit>) {
  says.value = ''
  try {
    client.setQueryData(['kit'], await work())
    await client.invalidateQueries({ queryKey: ['shelf'] })
  } catch (e) {
    says.value = saysOf(e)
    if (e instanceof Problem && e.status === 409) await client.invalidateQueries({ queryKey: ['kit'] })
  }
}
const keep = (change: Partial<Kit>) =>
  tell(() => {
    const { revision: seen, ...now } = { ...kit.value!, ...change }
    return ask(api.PUT('/kit', { body: { ...now, seen } }))
  })
function toggle(tsp: number) {
  const owned = kit.value?.spoonsTSP ?? []
  void keep({ spoonsTSP: owned.includes(tsp) ? owned.filter((s) => s !== tsp) : [...owned, tsp].sort((a, b) => b - a) })
}
const solids = computed(() => bottles.value.filter((b) => b.solid).map((b) => ({ key: b.uid, name: b.name })))
const name = ref('')
const material = ref('')
const grams = ref('')
const times = ref('10')
const calibrate = () =>
  tell(() =>
    ask(
      api.POST('/kit/measures', {
        body: {
          seen: kit.value?.revision ?? 0,
          name: name.value,
          material: material.value,
          grams: Number(grams.value.replace(',', '.')) || 0,
          times: Number(times.value) || 1,
        },
      }),
    ),
  )
</script>

<template>
  <section v-if="kit" class="mx-auto flex w-full max-w-4xl flex-col gap-6 p-4">
    <div>
      <p><RouterLink to="/shelf" class="link">Shelf</RouterLink></p>
      <h1>Kit</h1>
      <h2 class="pt-3">Spoons</h2>
      <p>Doses are rounded to what you own. Tap a spoon to say whether you have it.</p>
    </div>
    <ul class="flex flex-wrap items-end gap-4 bg-white p-4">
      <li v-for="s in usual" :key="s.tsp">
        <button
          type="button"
          class="flex min-w-11 flex-col items-center gap-1 p-2"
          :class="kit.spoonsTSP.includes(s.tsp) ? '' : 'opacity-65'"
          :aria-pressed="kit.spoonsTSP.includes(s.tsp)"
          :aria-label="`${s.name} spoon`"
          @click="toggle(s.tsp)"
        >
          <svg :width="52 * Math.cbrt(s.tsp)" viewBox="0 0 40 96" aria-hidden="true">
            <ellipse cx="20" cy="18" rx="16" ry="16" fill="none" stroke="currentColor" stroke-width="3" />
            <path d="M20 34v58" stroke="currentColor" stroke-width="4" stroke-linecap="round" />
          </svg>
          <span class="figure">{{ s.name }}</span>
        </button>
      </li>
    </ul>
    <label class="flex items-center gap-3">
      A heaped spoon holds
      <select
        class="field figure w-28!"
        :value="kit.heaped"
        @change="keep({ heaped: Number(($event.target as HTMLSelectElement).value) })"
      >
        <option v-for="h in [1.2, 1.3, 1.4, 1.5, 1.6, 1.8, 2]" :key="h" :value="h">{{ h }}</option>
      </select>
      level ones
    </label>
    <label v-if="shop" class="flex max-w-md flex-col gap-1">
      Name of the shop
      <TypedField label="Name of the shop" :value="shop.name" @typed="(t) => keeping.aboutShop(t, shop!.currency)" />
    </label>
    <label v-if="shop" class="flex max-w-md items-center gap-3">
      Prices are in
      <TypedField
        class="w-24!"
        label="Prices are in"
        :value="shop.currency"
        @typed="(t) => keeping.aboutShop(shop!.name, t)"
      />
    </label>
    <ProblemNote :says="keeping.says.value" />
    <div class="flex flex-col gap-2">
      <h2>Measures of my own</h2>
      <ul class="flex flex-col gap-1">
        <li v-for="n in kit.named" :key="n.name" class="flex items-center gap-3 bg-white px-3 py-2">
          <span class="font-semibold">{{ n.name }}</span>
          <span class="figure">{{ n.ml.toFixed(3) }} ml</span>
          <span class="text-slate">{{ n.from }}</span>
          <button
            type="button"
            class="link ml-auto min-h-11"
            @click="keep({ named: kit.named.filter((o) => o !== n) })"
          >
            Forget it
          </button>
        </li>
        <li v-if="!kit.named.length" class="text-slate">None yet. Weigh one once, and “2 pinches” is a dose.</li>
      </ul>
      <form class="flex flex-wrap items-end gap-2" @submit.prevent="calibrate">
        <label class="min-w-52 flex-1"
          >Called<input v-model="name" class="field" type="text" placeholder="tip of the small knife"
        /></label>
        <label class="flex flex-col"
          >So many of them<input v-model="times" class="field figure w-20!" type="text" inputmode="numeric"
        /></label>
        <div class="min-w-52 flex-1">
          of
          <ListPicker
            v-model="material"
            label="What was weighed"
            :options="[{ key: '', name: 'Choose…' }, ...solids]"
          />
        </div>
        <label class="flex flex-col"
          >weigh, g<input v-model="grams" class="field figure w-24!" type="text" inputmode="decimal" placeholder="0.35"
        /></label>
        <button type="submit" class="button button-main">Keep it</button>
      </form>
      <p class="text-slate">Powders and salt: do not breathe the dust.</p>
      <ProblemNote :says="says" />
    </div>
    <EquipmentForm />
  </section>
</template>
