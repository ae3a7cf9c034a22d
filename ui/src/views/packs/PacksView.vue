<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { RouterLink, useRouter } from 'vue-router'

import { api, ask, problemOf, type Problem } from '@/api/client'
import EmptyPlace from '@/parts/EmptyPlace.vue'
import KeepMenu from '@/parts/KeepMenu.vue'
import ListMore from '@/parts/ListMore.vue'
import ListPicker from '@/parts/ListPicker.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import SheetDialog from '@/parts/SheetDialog.vue'
import ToggleChip from '@/parts/ToggleChip.vue'
import { useBaits, usePacks, useSupplies } from '@/use/lists'
import { useShop } from '@/use/shop'

import SupplyRows from './SupplyRows.vue'

// What is sold: packs, what they cost, how many can be made up of what is at hand.
const router = useRouter()
const client = useQueryClient()
const { data: shop } = useShop()
const away = ref(false)
const { items: packs, more, reading, next } = usePacks(() => away.value)
const { items: supplies } = useSupplies()
const adding = ref(false)
const { items: baits } = useBaits(adding)
const choices = computed(() => (baits.value ?? []).map((b) => ({ key: b.uid, name: b.name })))
const bait = ref('')
const chosen = computed({ get: () => bait.value || choices.value[0]?.key || '', set: (v) => (bait.value = v) })
const name = ref('')
const count = ref('6')
const problem = ref<Problem>()
const busy = ref(false)
const money = (v: number) => `${v.toFixed(2)} ${shop.value?.currency ?? ''}`
async function add() {
  busy.value = true
  problem.value = undefined
  try {
    const called = name.value.trim() || choices.value.find((c) => c.key === chosen.value)?.name || ''
    const made = await ask(
      api.POST('/packs', {
        body: {
          name: called,
          baits: [{ bait: chosen.value, count: /^\s*\d+\s*$/.test(count.value) ? Number(count.value) : -1 }],
          each: [],
          bag: [],
          price: 0,
        },
      }),
    )
    await client.invalidateQueries({ queryKey: ['packs'] })
    await router.push(`/packs/${made.uid}`)
  } catch (e) {
    problem.value = problemOf(e)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <section class="mx-auto flex w-full max-w-6xl flex-col gap-5 p-4">
    <div class="flex flex-wrap items-center gap-3">
      <h1 class="mr-auto">Packs</h1>
      <ToggleChip :on="away" @click="away = !away">What was put away</ToggleChip>
      <RouterLink to="/pours" class="button">Pour</RouterLink>
      <button type="button" class="button button-main" @click="adding = true">A new pack</button>
    </div>
    <p v-if="packs && !packs.length && away" class="text-lg">Nothing was put away.</p>
    <EmptyPlace v-else-if="packs && !packs.length" picture="recipes">
      No packs yet. A pack is so many baits of one or several kinds, with eyes, bag and label: its cost, and how many
      can be made up.
    </EmptyPlace>
    <ul class="flex flex-col gap-2">
      <li v-for="p in packs" :key="p.uid" class="flex items-center gap-4 bg-white pr-3 pl-4" data-testid="pack">
        <RouterLink :to="`/packs/${p.uid}`" class="flex min-h-16 flex-1 flex-wrap items-center gap-x-6 gap-y-1 py-2">
          <span class="min-w-56 flex-1">
            <span class="block text-lg font-semibold">{{ p.name }}</span>
            <span class="block text-slate">{{ p.kinds.join(', ') }}</span>
          </span>
          <span class="figure w-28"
            ><span class="text-xl font-semibold">{{ p.ready }}</span> ready</span
          >
          <span class="figure w-40"
            >{{ p.can }} more can be made<span v-if="p.first" class="block text-slate"
              >then no {{ p.first }}</span
            ></span
          >
          <span class="figure w-44"
            >costs {{ money(p.cost.all)
            }}<span v-if="p.price > 0" class="block text-slate"
              >sold for {{ money(p.price) }}, leaves {{ money(p.cost.leaves) }}</span
            ></span
          >
        </RouterLink>
        <KeepMenu what="pack" :uid="p.uid" :name="p.name" :kept="p.kept" right />
      </li>
    </ul>
    <ListMore :more="more" :reading="reading" @next="next" />
    <SupplyRows v-if="supplies" :supplies="supplies" :currency="shop?.currency ?? ''" />

    <SheetDialog v-if="adding" title="A new pack" @close="adding = false">
      <form class="mt-4 flex flex-col gap-4" @submit.prevent="add">
        <p v-if="baits && !baits.length">There is no bait yet. Make one first: a pack holds baits.</p>
        <div v-else>Bait<ListPicker v-model="chosen" label="Bait" :options="choices" /></div>
        <label class="w-40"
          >How many<input
            v-model="count"
            class="field figure"
            type="text"
            inputmode="numeric"
            :aria-invalid="!!problem?.field.endsWith('count')"
        /></label>
        <label class="block"
          >Called<input v-model="name" class="field" type="text" autocomplete="off" placeholder="as the bait"
        /></label>
        <ProblemNote :says="problem?.message" />
        <div class="flex gap-3">
          <button type="submit" class="button button-main" :disabled="busy || !chosen">Make it</button>
          <button type="button" class="button" @click="adding = false">Leave it</button>
        </div>
      </form>
    </SheetDialog>
  </section>
</template>
