<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { RouterLink, useRoute } from 'vue-router'

import { api, ask, problemOf, type Problem, type PackPage } from '@/api/client'
import BaitPatch from '@/parts/BaitPatch.vue'
import KeepMenu from '@/parts/KeepMenu.vue'
import ListPicker from '@/parts/ListPicker.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import TypedField from '@/parts/TypedField.vue'
import { useBaits, useSupplies } from '@/use/lists'

// A pack: its baits, what goes onto each and into the bag, what it costs; made up and sold from here.
const route = useRoute()
const client = useQueryClient()
const uid = computed(() => route.params.pack as string)
const path = computed(() => ({ path: { pack: uid.value } }))
const { data: page, error } = useQuery({
  queryKey: ['packs', uid],
  queryFn: () => ask(api.GET('/packs/{pack}', { params: path.value })),
})
const { items: baits } = useBaits(true)
const { items: supplies } = useSupplies()
const problem = ref<Problem>()
const busy = ref(false)
async function tell(work: () => Promise<PackPage>) {
  problem.value = undefined
  busy.value = true
  try {
    client.setQueryData(['packs', uid.value], await work())
    await client.invalidateQueries({ queryKey: ['packs', 'list'] })
    await client.invalidateQueries({ queryKey: ['supplies'] })
    await client.invalidateQueries({ queryKey: ['log'] })
    return true
  } catch (e) {
    problem.value = problemOf(e)
    if (problem.value.status === 409 && !problem.value.asks) await client.invalidateQueries({ queryKey: ['packs'] })
    return false
  } finally {
    busy.value = false
  }
}
type Content = Pick<PackPage, 'name' | 'note' | 'baits' | 'each' | 'bag' | 'price'>
function change(now: Partial<Content>) {
  const p = page.value!
  const body = { name: p.name, note: p.note ?? '', baits: p.baits, each: p.each, bag: p.bag, price: p.price, ...now }
  return tell(() => ask(api.PUT('/packs/{pack}', { params: path.value, body: { ...body, seen: p.revision } })))
}
const whole = (t: string) => (/^\s*\d+\s*$/.test(t) ? Number(t) : -1)
const amount = (t: string) => {
  const n = Number(t.replace(',', '.'))
  return t.trim() === '' || Number.isNaN(n) ? -1 : n
}
const more = ref('')
const baitChoices = computed(() => [
  { key: '', name: 'Another kind…' },
  ...(baits.value ?? [])
    .filter((b) => !page.value?.baits.some((l) => l.bait === b.uid))
    .map((b) => ({ key: b.uid, name: b.name })),
])
async function addBait(key: string) {
  if (key) await change({ baits: [...page.value!.baits, { bait: key, count: 1 }] })
  more.value = ''
}
const places = [
  { key: 'each' as const, title: 'On each bait', one: 2 },
  { key: 'bag' as const, title: 'In each bag', one: 1 },
]
const adding = ref({ each: '', bag: '' })
const free = (key: 'each' | 'bag') => [
  { key: '', name: 'Add…' },
  ...(supplies.value ?? [])
    .filter((s) => !page.value?.[key].some((u) => u.supply === s.uid))
    .map((s) => ({ key: s.uid, name: s.name })),
]
async function addUse(key: 'each' | 'bag', supply: string, one: number) {
  if (supply) await change({ [key]: [...page.value![key], { supply, amount: one }] })
  adding.value[key] = ''
}
const named = (supply: string) => supplies.value?.find((s) => s.uid === supply)
const money = (v: number) => `${v.toFixed(2)} ${page.value?.currency ?? ''}`

const making = ref('1')
const asked = computed(() => problem.value?.asks)
async function makeUp(sure = false) {
  await tell(() =>
    ask(
      api.POST('/packs/{pack}/made', {
        params: path.value,
        body: { seen: page.value!.revision, count: whole(making.value), sure },
      }),
    ),
  )
}
const selling = ref('1')
const where = ref('')
const sold = ref(false)
async function sell() {
  sold.value = await tell(() =>
    ask(
      api.POST('/packs/{pack}/sold', {
        params: path.value,
        body: { seen: page.value!.revision, count: whole(selling.value), words: where.value },
      }),
    ),
  )
  if (sold.value) where.value = ''
}
</script>

<template>
  <section v-if="page" class="mx-auto flex w-full max-w-6xl flex-col gap-5 p-4">
    <header class="flex flex-wrap items-end gap-4">
      <div class="min-w-56 flex-1">
        <p><RouterLink to="/packs" class="link">Packs</RouterLink></p>
        <h1>{{ page.name }}</h1>
        <p class="figure">
          {{ page.count }} baits, {{ money(page.cost.all) }}: plastic {{ money(page.cost.plastic) }}, the rest
          {{ money(page.cost.supplies) }}; {{ money(page.cost.perBait) }} a bait.
          <template v-if="page.price > 0">Leaves {{ money(page.cost.leaves) }}.</template>
        </p>
      </div>
      <RouterLink :to="`/packs/${page.uid}/label`" class="button">Label</RouterLink>
      <KeepMenu what="pack" :uid="page.uid" :name="page.name" :kept="page.kept" right />
    </header>
    <ProblemNote :says="problem?.message" />

    <div class="surround grid gap-4 p-4 sm:grid-cols-2 lg:grid-cols-3">
      <div v-for="(l, i) in page.lines" :key="l.bait" data-testid="kind">
        <RouterLink v-if="l.picture.png" :to="`/baits/${l.bait}`"
          ><BaitPatch :png="l.picture.png" :name="l.name"
        /></RouterLink>
        <p v-else>{{ l.name }}</p>
        <div class="mt-1 flex items-center gap-3">
          <span class="w-20"
            ><TypedField
              figure
              :label="`How many of ${l.name}`"
              :value="String(l.count)"
              @typed="(t) => change({ baits: page!.baits.map((b, k) => (k === i ? { ...b, count: whole(t) } : b)) })"
          /></span>
          <span class="flex-1 leading-tight">{{
            l.atHand >= 0 ? `${l.atHand} at hand` : `${-l.atHand} more packed than poured here`
          }}</span>
          <button
            v-if="page.baits.length > 1"
            type="button"
            class="button px-3"
            @click="change({ baits: page!.baits.filter((b) => b.bait !== l.bait) })"
          >
            Take out
          </button>
        </div>
      </div>
      <ListPicker
        v-model="more"
        label="Another kind of bait"
        :options="baitChoices"
        class="self-start"
        @update:model-value="addBait"
      />
    </div>

    <div class="grid gap-5 lg:grid-cols-2">
      <section class="flex flex-col gap-4 bg-white p-4">
        <div v-for="p in places" :key="p.key">
          <h2 class="pb-1">{{ p.title }}</h2>
          <div
            v-for="(u, i) in page[p.key]"
            :key="u.supply"
            class="flex flex-wrap items-center gap-3 border-t border-fog py-1"
            :data-testid="p.key"
          >
            <span class="w-20"
              ><TypedField
                figure
                :label="`How much of ${named(u.supply)?.name ?? 'it'}`"
                :value="String(u.amount)"
                @typed="
                  (t) => change({ [p.key]: page![p.key].map((o, k) => (k === i ? { ...o, amount: amount(t) } : o)) })
                "
            /></span>
            <span class="flex-1"
              >{{ named(u.supply)?.unit === 'pieces' ? '' : named(u.supply)?.unit }}
              {{ named(u.supply)?.name ?? 'put away' }}
              <span class="text-slate">{{ named(u.supply)?.says }}</span></span
            >
            <button
              type="button"
              class="button px-3"
              @click="change({ [p.key]: page![p.key].filter((o) => o.supply !== u.supply) })"
            >
              Take out
            </button>
          </div>
          <ListPicker
            v-if="free(p.key).length > 1"
            v-model="adding[p.key]"
            :label="`${p.title}: add`"
            :options="free(p.key)"
            class="mt-1 w-60"
            @update:model-value="(v) => addUse(p.key, v, p.one)"
          />
          <p v-else-if="!page[p.key].length">
            Eyes, glue, bags and labels are kept beside <RouterLink to="/packs" class="link">the packs</RouterLink>.
          </p>
        </div>
        <label class="flex items-center gap-3 border-t border-fog pt-3"
          >Sold for<span class="w-28"
            ><TypedField
              figure
              label="What a pack is sold for"
              placeholder="not sold"
              :value="page.price ? String(page.price) : ''"
              @typed="(t) => change({ price: t.trim() ? amount(t) : 0 })" /></span
          >{{ page.currency }}</label
        >
        <label class="block"
          >Note<TypedField label="Note" :value="page.note ?? ''" @typed="(t) => change({ note: t })"
        /></label>
      </section>

      <section v-if="page.kept === 'here'" class="flex flex-col gap-4 bg-white p-4">
        <p class="figure text-xl">
          <span class="text-3xl font-semibold" data-testid="ready">{{ page.ready }}</span> ready.
          <span class="text-slate"
            >{{ page.can }} more can be made up<template v-if="page.first">; then there is no {{ page.first }}</template
            >.</span
          >
        </p>
        <form class="flex flex-wrap items-end gap-3" @submit.prevent="makeUp()">
          <label class="w-32"
            >Packs<input v-model="making" class="field figure" type="text" inputmode="numeric"
          /></label>
          <button type="submit" class="button button-main" :disabled="busy">Make them up</button>
          <button v-if="asked" type="button" class="button" @click="makeUp(true)">Yes, make them up</button>
        </form>
        <form class="flex flex-wrap items-end gap-3 border-t border-fog pt-3" @submit.prevent="sell">
          <label class="w-32"
            >Packs<input v-model="selling" class="field figure" type="text" inputmode="numeric"
          /></label>
          <label class="min-w-48 flex-1"
            >Where, to whom<input v-model="where" class="field" type="text" placeholder="Market, spring"
          /></label>
          <button type="submit" class="button" :disabled="busy">Sold</button>
          <p v-if="sold" role="status" class="basis-full">
            It stands in <RouterLink to="/log" class="link">the logbook</RouterLink>.
          </p>
        </form>
      </section>
    </div>
  </section>
  <section v-else-if="error" class="p-8"><ProblemNote :says="error.message" /></section>
</template>
