<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'

import { api, ask, Problem, saysOf } from '@/api/client'
import ColourPatch from '@/parts/ColourPatch.vue'
import ListPicker from '@/parts/ListPicker.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import TypedField from '@/parts/TypedField.vue'
import { useShelf, useShop } from '@/use/shop'
import WedgeView from '@/views/bench/WedgeView.vue'

import LearnedPanel from './LearnedPanel.vue'
import PropertyRows from './PropertyRows.vue'
import StockMoves from './StockMoves.vue'

// All there is to know of one material: how it looks, what it is, where each value comes from, how much is left.
const route = useRoute()
const router = useRouter()
const client = useQueryClient()
const { data: shop } = useShop()
const { bottles } = useShelf()
const uid = computed(() => route.params.material as string)
const { data: page, error } = useQuery({
  queryKey: ['shelf', uid],
  queryFn: () => ask(api.GET('/materials/{material}', { params: { path: { material: uid.value } } })),
  retry: (n, e) => !(e instanceof Problem && e.status === 404) && n < 2,
})
const origins: Record<string, string> = {
  typical: 'typical of its family',
  maker: "from the maker's sheet",
  measured: 'measured by you',
  none: 'its maker gives none',
  survived: 'survived',
}
const originChoices = ['measured', 'maker', 'typical'].map((key) => ({ key, name: origins[key] ?? key }))
const origin = ref('measured')
const heatOrigins = ['maker', 'survived', 'measured', 'none'].map((key) => ({ key, name: origins[key] ?? key }))
const heatOrigin = ref('maker')
const heats = ref('1')
const heat = ref('')
const dropCount = ref('40')
const dropInto = ref('2 ml')
const mm = ref(4)
const problem = ref<{ field: string; says: string }>()
const saysAt = (field: string) => (problem.value?.field === field ? problem.value.says : undefined)

// One change after the other: each goes out with the revision that the one before it came back with.
let last: Promise<unknown> = Promise.resolve()
const newest = ref(0)
function tell(field: string, work: () => Promise<{ uid: string; revision: number }>) {
  last = last.then(() => change(field, work))
  return last
}
async function change(field: string, work: () => Promise<{ uid: string; revision: number }>) {
  problem.value = undefined
  try {
    const got = await work()
    if (got.uid === uid.value) newest.value = got.revision
    await client.invalidateQueries({ queryKey: ['shelf'] })
  } catch (e) {
    problem.value = {
      field: e instanceof Problem && e.field ? e.field : field,
      says: saysOf(e),
    }
    if (e instanceof Problem && e.status === 409) await client.invalidateQueries({ queryKey: ['shelf'] })
  }
}
const params = computed(() => ({ path: { material: uid.value } }))
const seen = computed(() => Math.max(newest.value, page.value?.revision ?? 0))
watch(uid, () => (newest.value = 0))
const set = (key: string, typed: string, how = origin.value, count = 0) =>
  tell(key, () =>
    ask(
      api.PATCH('/materials/{material}', {
        params: params.value,
        body: { seen: seen.value, key, typed, origin: how as 'measured', count },
      }),
    ),
  )

const left = ref<string>()
const bought = ref<string>()
const price = ref<string>()
const reorder = ref<string>()
const restock = () =>
  tell('left', () =>
    ask(
      api.PUT('/materials/{material}/stock', {
        params: params.value,
        body: {
          seen: seen.value,
          left: left.value ?? page.value?.stock.typed ?? '',
          bought: bought.value ?? page.value?.stock.bought ?? '',
          price: price.value ?? String(page.value?.stock.price ?? ''),
          reorder: reorder.value ?? page.value?.stock.reorder ?? '',
        },
      }),
    ),
  )
const next = () =>
  tell('next', async () => {
    const b = await ask(api.POST('/materials/{material}/next', { params: params.value, body: { seen: seen.value } }))
    await router.push(`/shelf/${b.uid}`)
    return b
  })

const curve = computed(() => page.value?.colourant?.optics.curve)
const byChips = computed(() => !!curve.value || !!page.value?.powder?.label)
const forgetChips = () =>
  tell('chips', () =>
    ask(api.DELETE('/materials/{material}/chips', { params: { ...params.value, query: { seen: seen.value } } })),
  )

const other = ref('')
const others = computed(() => [
  { key: '', name: 'Which way does it lean? Choose another…' },
  ...bottles.value
    .filter((b) => b.uid !== uid.value && (b.colourant || b.powder))
    .map((b) => ({ key: b.uid, name: b.name })),
])
const { data: beside, error: besideError } = useQuery({
  queryKey: ['beside', uid, other],
  queryFn: () => ask(api.GET('/comparisons/materials', { params: { query: { one: uid.value, other: other.value } } })),
  enabled: computed(() => !!other.value),
  retry: false,
})
</script>

<template>
  <section v-if="page && shop" class="grid flex-1 grid-cols-1 lg:grid-cols-[1fr_30rem]">
    <div class="surround flex min-w-0 flex-col gap-4 p-4">
      <div>
        <p><RouterLink to="/shelf" class="underline underline-offset-4">Shelf</RouterLink></p>
        <h1>{{ page.name }}</h1>
        <p>
          {{ page.dose }}, {{ page.ground
          }}<template v-if="page.retired">. Off the shelf; recipes that used it keep it</template
          ><template v-if="page.replacedName">. The next bottle after an older one of the same stuff</template>
        </p>
      </div>
      <WedgeView :wedge="page.wedge" :shop="shop" :mm="mm" @mm="(v) => (mm = v)" />
      <div v-if="page.closeUp" class="flex flex-wrap items-end gap-4">
        <img :src="page.closeUp.png" :alt="`${page.name}, close up`" class="h-60" />
        <p>
          Close up, over dark where it needs it: <span class="figure">{{ page.closeUp.widthMM.toFixed(0) }} mm</span>
          across.
        </p>
      </div>
      <div v-if="page.faces.length">
        <h2>{{ page.powder ? 'Turned in the sun' : 'The hues of a piece' }}</h2>
        <div class="flex">
          <div v-for="(f, i) in page.faces" :key="i" class="flex-1">
            <ColourPatch :hex="f.swatch.hex" :name="f.name" class="h-20" />
            <p class="pt-1 leading-tight">{{ f.name }}</p>
          </div>
        </div>
      </div>
      <LearnedPanel v-if="page.colourant || page.powder" :uid="uid" />
      <div v-if="page.bestIn.length">
        <h2>Where it leads, among your recipes</h2>
        <ul class="flex flex-col gap-1">
          <li v-for="b in page.bestIn" :key="b.recipe" class="flex items-center gap-3">
            <ColourPatch :hex="b.base.hex" :name="b.recipe" class="h-9 w-16 shrink-0" />
            <span
              >{{ b.recipe }}: {{ b.words }}, ΔE00 <span class="figure">{{ b.deltaE00.toFixed(0) }}</span></span
            >
          </li>
        </ul>
      </div>
      <div v-if="page.colourant || page.powder" class="flex flex-col gap-2">
        <ListPicker v-model="other" label="Beside another" :options="others" class="max-w-md" />
        <ProblemNote class="text-ink" :says="other ? besideError?.message : undefined" />
        <div v-if="beside && other" data-testid="beside">
          <div class="flex h-14">
            <ColourPatch v-for="(s, i) in beside.one.swatches" :key="i" :hex="s.hex" :name="page.name" class="flex-1" />
          </div>
          <div class="flex h-14">
            <ColourPatch
              v-for="(s, i) in beside.other.swatches"
              :key="i"
              :hex="s.hex"
              name="the other"
              class="flex-1"
            />
          </div>
          <p class="pt-1">
            Above: {{ beside.one.says }}. Below, equally strong: {{ beside.other.says }}. At equal strength the lower is
            {{ beside.words || 'the same' }}; ΔE00 <span class="figure">{{ beside.deltaE00.toFixed(1) }}</span>.
          </p>
        </div>
      </div>
    </div>

    <div class="flex flex-col gap-5 border-l border-haze bg-mist p-4">
      <div class="flex flex-col gap-2">
        <label class="block"
          >Name<TypedField label="Name" :value="page.name" :says="saysAt('name')" @typed="(t) => set('name', t)"
        /></label>
        <label class="block"
          >Note<TypedField
            label="Note"
            :value="page.note ?? ''"
            placeholder="Foams when stirred…"
            @typed="(t) => set('note', t)"
        /></label>
        <ProblemNote :says="saysAt('name') ?? saysAt('note')" />
        <p v-if="page.runs" class="says">
          It runs: its dye moves through the plastic and into a neighbour within days.
        </p>
        <p v-if="page.colourant?.contains?.length" class="says">
          A cut of your own:
          <template v-for="(c, i) in page.colourant.contains" :key="c.material"
            >{{ i ? ', ' : ''
            }}<RouterLink :to="`/shelf/${c.material}`" class="link">{{
              bottles.find((b) => b.uid === c.material)?.name ?? c.material
            }}</RouterLink>
            {{ ' ' }}<span class="figure">{{ (100 * c.share).toFixed(1) }} %</span></template
          >, the rest clear.
        </p>
      </div>

      <div class="flex flex-col gap-2">
        <h2>How far may it be heated?</h2>
        <p class="first-letter:uppercase">{{ page.heatWords }}.</p>
        <form class="flex flex-wrap gap-2" @submit.prevent="set('heat', heat, heatOrigin, Number(heats))">
          <ListPicker v-model="heatOrigin" label="How it is known" :options="heatOrigins" class="min-w-44 flex-1" />
          <input
            v-if="heatOrigin === 'survived'"
            v-model="heats"
            class="field figure w-16!"
            type="text"
            inputmode="numeric"
            aria-label="How many heats"
          />
          <input
            v-if="heatOrigin !== 'none'"
            v-model="heat"
            class="field figure w-24!"
            type="text"
            placeholder="350F"
            aria-label="Temperature"
          />
          <button type="submit" class="button px-3">Keep</button>
        </form>
        <ProblemNote :says="saysAt('heat')" />
      </div>

      <div class="flex flex-col gap-2">
        <div class="flex items-end gap-2">
          <h2 class="mr-auto">What it is</h2>
          <span>What I type is</span>
          <ListPicker v-model="origin" label="Origin of what is typed" :options="originChoices" class="w-52" />
        </div>
        <PropertyRows
          :properties="page.properties.filter((q) => !q.fine)"
          :origins="origins"
          :says-at="saysAt"
          @set="(key, typed) => set(key, typed)"
        />
        <details v-if="page.properties.some((q) => q.fine)">
          <summary class="min-h-11 cursor-pointer py-2">The bands in which it takes light</summary>
          <PropertyRows
            :properties="page.properties.filter((q) => q.fine)"
            :origins="origins"
            :says-at="saysAt"
            @set="(key, typed) => set(key, typed)"
          />
        </details>
        <label v-if="page.colourant || page.flake" class="flex min-h-11 items-center gap-2">
          <input
            type="checkbox"
            class="h-5 w-5"
            :checked="page.runs"
            aria-label="It runs"
            @change="set('runs', ($event.target as HTMLInputElement).checked ? 'yes' : 'no')"
          />
          It runs: its colour moves through the plastic in the days after the pour
        </label>
        <form
          v-if="page.colourant"
          class="flex flex-wrap items-center gap-2"
          @submit.prevent="set('drops', dropInto, 'measured', Number(dropCount))"
        >
          I counted
          <input
            v-model="dropCount"
            class="field figure w-16!"
            type="text"
            inputmode="numeric"
            aria-label="Drops counted"
          />
          drops into
          <input v-model="dropInto" class="field figure w-24!" type="text" aria-label="Measured amount" />
          <button type="submit" class="button px-3">Keep</button>
        </form>
        <ProblemNote :says="saysAt('drops')" />
        <div
          v-if="(page.colourant && !page.colourant.contains?.length) || page.powder"
          class="flex flex-wrap items-center gap-2"
        >
          Stronger or weaker than it says?
          <button type="button" class="button px-3" @click="set('strength', '0.87')">Weaker</button>
          <button type="button" class="button px-3" @click="set('strength', '1.15')">Stronger</button>
        </div>
        <ProblemNote :says="saysAt('strength')" />
        <div
          v-if="(page.colourant && !page.colourant.contains?.length) || page.plastisol || page.powder"
          class="flex flex-wrap items-center gap-2"
        >
          <p v-if="curve" class="min-w-52 flex-1">
            Its colour is what {{ curve.chips }} readings of chips have it be, to ΔE00
            <span class="figure">{{ curve.residual.toFixed(1) }}</span>.
          </p>
          <p v-if="byChips && !curve" class="min-w-52 flex-1">
            Its strength, film and glint are as chips of it were read.
          </p>
          <RouterLink :to="`/shelf/${uid}/chips`" class="button">{{
            byChips ? 'Measure it again' : 'Measure it by chips'
          }}</RouterLink>
          <button v-if="byChips" type="button" class="button" @click="forgetChips">Back to its figures</button>
        </div>
        <ProblemNote :says="saysAt('chips')" />
      </div>

      <form class="flex flex-col gap-2" @submit.prevent="restock">
        <h2>Stock</h2>
        <div class="grid grid-cols-2 gap-2">
          <label
            >Left<input
              class="field figure"
              type="text"
              :value="left ?? page.stock.typed"
              @input="left = ($event.target as HTMLInputElement).value"
          /></label>
          <label
            >Buy more below<input
              class="field figure"
              type="text"
              :value="reorder ?? page.stock.reorder"
              @input="reorder = ($event.target as HTMLInputElement).value"
          /></label>
          <label
            >Bought by the<input
              class="field figure"
              type="text"
              :value="bought ?? page.stock.bought"
              @input="bought = ($event.target as HTMLInputElement).value"
          /></label>
          <label
            >Price of that, {{ shop?.currency
            }}<input
              class="field figure"
              type="text"
              inputmode="decimal"
              :value="price ?? page.stock.price"
              @input="price = ($event.target as HTMLInputElement).value"
          /></label>
        </div>
        <ProblemNote :says="saysAt('left') ?? saysAt('bought') ?? saysAt('reorder') ?? saysAt('price')" />
        <div class="flex flex-wrap gap-2">
          <button type="submit" class="button">Keep</button>
          <button v-if="!page.retired" type="button" class="button" @click="next">Same stuff, new bottle</button>
        </div>
        <p v-if="page.stockLow" class="says">Running low: time to buy more.</p>
        <ProblemNote :says="saysAt('next')" />
      </form>
      <StockMoves :uid="page.uid" :revision="page.revision" :liquid="!page.solid" :currency="shop?.currency ?? ''" />
      <p v-if="page.usedIn.length">Used in {{ page.usedIn.join(', ') }}.</p>
      <p class="text-slate">Its safety data sheet comes before anything said here.</p>
    </div>
  </section>
  <section v-else-if="error" class="p-8"><ProblemNote :says="error.message" /></section>
</template>
