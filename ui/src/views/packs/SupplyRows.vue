<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'

import { api, ask, Problem, saysOf, type SupplyCard } from '@/api/client'
import KeepMenu from '@/parts/KeepMenu.vue'
import ListPicker from '@/parts/ListPicker.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import TypedField from '@/parts/TypedField.vue'

// What packs take besides baits: what is left of it, what it costs, what was bought.
defineProps<{ supplies: SupplyCard[]; currency: string }>()
const client = useQueryClient()
const says = ref('')
const at = ref('')
async function tell(uid: string, work: () => Promise<unknown>) {
  says.value = ''
  at.value = uid
  try {
    await work()
    await client.invalidateQueries({ queryKey: ['supplies'] })
    await client.invalidateQueries({ queryKey: ['packs'] })
    return true
  } catch (e) {
    says.value = saysOf(e)
    if (e instanceof Problem && e.status === 409) await client.invalidateQueries({ queryKey: ['supplies'] })
    return false
  }
}
const change = (s: SupplyCard, body: { left?: string; low?: string; bought?: string; price?: string }) =>
  tell(s.uid, () =>
    ask(api.PATCH('/supplies/{supply}', { params: { path: { supply: s.uid } }, body: { ...body, seen: s.revision } })),
  )
const buying = ref('')
const bought = ref('')
const paid = ref('')
function buy(s: SupplyCard) {
  buying.value = buying.value === s.uid ? '' : s.uid
  bought.value = s.size ? String(s.size) : ''
  paid.value = s.price ? String(s.price) : ''
}
async function keepBought(s: SupplyCard) {
  if (await change(s, { bought: bought.value, price: paid.value })) buying.value = ''
}
const name = ref('')
const unit = ref<'pieces' | 'ml' | 'g'>('pieces')
const units = [
  { key: 'pieces' as const, name: 'pieces' },
  { key: 'ml' as const, name: 'ml' },
  { key: 'g' as const, name: 'g' },
]
async function add() {
  if (await tell('new', () => ask(api.POST('/supplies', { body: { name: name.value, unit: unit.value } }))))
    name.value = ''
}
const each = (s: SupplyCard) => (s.perUnit ? `${s.perUnit < 0.1 ? s.perUnit.toFixed(3) : s.perUnit.toFixed(2)}` : '')
</script>

<template>
  <section class="bg-white p-4">
    <h2 class="pb-2">Eyes, glue, bags, labels</h2>
    <div v-for="s in supplies" :key="s.uid" class="border-t border-fog py-2" data-testid="supply">
      <div class="flex flex-wrap items-center gap-x-4 gap-y-2">
        <span class="min-w-40 flex-1 font-semibold">{{ s.name }}</span>
        <label class="flex items-center gap-2"
          >left<span class="w-28"
            ><TypedField
              figure
              :label="`Left of ${s.name}`"
              placeholder="not counted"
              :value="s.counted ? String(Number(s.left.toFixed(2))) : ''"
              @typed="(t) => change(s, { left: t })" /></span
          >{{ s.unit }}</label
        >
        <label class="flex items-center gap-2"
          >buy below<span class="w-24"
            ><TypedField
              figure
              :label="`Buy ${s.name} below`"
              placeholder="never"
              :value="s.low ? String(s.low) : ''"
              @typed="(t) => change(s, { low: t })" /></span
        ></label>
        <span class="figure w-32 text-slate">{{
          each(s) ? `${each(s)} ${currency} ${s.unit === 'pieces' ? 'each' : `a ${s.unit}`}` : 'no price yet'
        }}</span>
        <button type="button" class="button px-3" @click="buy(s)">Bought</button>
        <KeepMenu what="supply" :uid="s.uid" :name="s.name" :kept="s.kept" right />
      </div>
      <form v-if="buying === s.uid" class="flex flex-wrap items-end gap-3 pt-2" @submit.prevent="keepBought(s)">
        <label class="w-32">How many, {{ s.unit }}<input v-model="bought" class="field figure" type="text" /></label>
        <label class="w-32">For, {{ currency }}<input v-model="paid" class="field figure" type="text" /></label>
        <button type="submit" class="button button-main">Write it down</button>
      </form>
      <p v-if="s.runsLow" class="pt-1 font-semibold">Runs low: buy more.</p>
      <ProblemNote :says="at === s.uid ? says : ''" />
    </div>
    <p v-if="!supplies.length" class="py-2">Nothing is kept yet. What is counted here goes down with each pack.</p>
    <form class="flex flex-wrap items-end gap-3 border-t border-fog pt-3" @submit.prevent="add">
      <label class="w-56"
        >Something else<input v-model="name" class="field" type="text" placeholder="Eyes, 4 mm"
      /></label>
      <div class="w-32">counted in<ListPicker v-model="unit" label="Counted in" :options="units" /></div>
      <button type="submit" class="button">Add it</button>
      <ProblemNote class="basis-full" :says="at === 'new' ? says : ''" />
    </form>
  </section>
</template>
