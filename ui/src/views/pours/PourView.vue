<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'

import { api, ask, saysOf, type PourPlanned } from '@/api/client'
import KeepMenu from '@/parts/KeepMenu.vue'
import ListPicker from '@/parts/ListPicker.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import ToggleChip from '@/parts/ToggleChip.vue'
import TypedField from '@/parts/TypedField.vue'
import { degrees, usePour } from '@/use/pours'
import { useShapes } from '@/use/shop'

import CookCards from './CookCards.vue'
import RestUses from './RestUses.vue'
import TimelineChart from './TimelineChart.vue'
import WaysOut from './WaysOut.vue'

// A plan: the bait, what is asked of it, and what that comes to in cups, drops, loads, minutes and money.
const route = useRoute()
const router = useRouter()
const client = useQueryClient()
const uid = computed(() => route.params.pour as string)
const { page, error, problem, busy, change } = usePour(() => uid.value)
const { data: shapes } = useShapes()
const planned = computed(() => page.value?.planned)
const open = computed(() => page.value?.state === 'planned')
const order = computed(() => page.value!.order)
const whole = (typed: string) => (/^\s*\d+\s*$/.test(typed) ? Number(typed) : -1)
const percent = (typed: string) => {
  const n = Number(typed.replace('%', '').replace(',', '.'))
  return typed.trim() === '' || Number.isNaN(n) ? -1 : n
}
function setMold(i: number, now: Partial<{ mold: string; count: number; copies: number }>) {
  void change({ molds: order.value.molds.map((m, k) => (k === i ? { ...m, ...now } : m)) })
}
const adding = ref('')
function addMold(key: string) {
  if (key) void change({ molds: [...order.value.molds, { mold: key, count: 8, copies: 1 }] })
}
const moldChoices = computed(() => shapes.value?.map((s) => ({ key: s.key, name: s.name })) ?? [])
const degasChoices = [
  { key: 'none' as const, word: 'Not degassed' },
  { key: 'raw' as const, word: 'Raw' },
  { key: 'hot' as const, word: 'Hot' },
]
const colourChoices = [
  { raw: true, word: 'Colour in raw' },
  { raw: false, word: 'Colour in hot' },
]
const said = (field: string) => (problem.value?.field === field ? problem.value.message : undefined)
const general = computed(() =>
  problem.value && !/^(molds$|molds\.\d+\.(count|copies)|cups|sparePercent|packOf)/.test(problem.value.field)
    ? problem.value.message
    : '',
)
function move(step: string, tick: number) {
  const later = [...(order.value.later ?? []).filter((l) => l.step !== step), { step, tick }]
  void change({ later })
}
const starting = ref(false)
const refused = ref('')
async function start() {
  starting.value = true
  refused.value = ''
  try {
    await ask(
      api.POST('/pours/{pour}/run', {
        params: { path: { pour: uid.value } },
        body: { seen: page.value!.revision, atMS: Date.now() },
      }),
    )
    await client.invalidateQueries({ queryKey: ['pours'] })
    await router.push(`/pours/${uid.value}/run`)
  } catch (e) {
    refused.value = saysOf(e)
  } finally {
    starting.value = false
  }
}
const money = (v: number) => `${v.toFixed(2)} ${page.value?.currency ?? ''}`
const most = computed(() => Math.max(1, ...(planned.value?.goes ?? []).map((g) => g.ml)))
const loads = computed(() => planned.value?.shots ?? [])
const shotSays = (s: PourPlanned['shots'][number]) => {
  const n = s.loads.length
  const hand = s.way === 'hand' || s.way === 'laid'
  const what = hand ? (n === 1 ? 'one fill' : `${n} fills`) : n === 1 ? 'one load' : `${n} loads`
  return `${shotWords[s.way]}: ${what}${s.rig ? `, ${s.rig}` : ''}.`
}
const shotWords = {
  hand: 'poured by hand',
  shot: 'shot',
  laid: 'laid by hand',
  tails: 'shot whole, tails cut',
  rods: 'into the rods’ holes',
}
</script>

<template>
  <section v-if="page" class="flex w-full flex-1 flex-col">
    <header class="surround flex flex-wrap items-end gap-x-6 gap-y-3 p-4">
      <div class="min-w-64 flex-1">
        <p><RouterLink to="/pours" class="underline underline-offset-4">Pour</RouterLink></p>
        <h1>{{ order.name }}</h1>
        <p v-if="planned" class="figure">
          {{ planned.made }} baits<template v-if="planned.packs"
            >, {{ planned.packs }} {{ planned.packs === 1 ? 'pack' : 'packs' }}</template
          >, {{ planned.cooks.length }} {{ planned.cooks.length === 1 ? 'cup' : 'cups'
          }}<template v-if="planned.timeline"
            >, {{ Math.round((planned.timeline.ticks * page.tickS) / 60) }} min from the first jug to the last
            bait</template
          >.
          <template v-if="planned.cost > 0">{{ money(planned.cost) }}, {{ money(planned.perBait) }} a bait.</template>
          {{ planned.baitSays }}
        </p>
        <div class="mt-3 flex flex-wrap items-center gap-3">
          <button
            v-if="open"
            type="button"
            class="button button-main"
            :disabled="starting || !planned?.timeline"
            @click="start"
          >
            Begin the run
          </button>
          <RouterLink v-else :to="`/pours/${uid}/run`" class="button button-main">{{
            page.state === 'done' ? 'What came of it' : 'Go on with the run'
          }}</RouterLink>
          <a v-if="planned?.timeline" :href="`/api/v1/pours/${uid}/sheet`" class="button">Sheet for the wall, PDF</a>
          <KeepMenu what="pour" :uid="page.uid" :name="order.name" :kept="page.kept" />
        </div>
        <ProblemNote class="mt-2" :says="refused || general" />
      </div>
      <img
        v-if="page.picture.png"
        :src="page.picture.png"
        :alt="order.name"
        class="max-h-56 min-w-0 object-contain max-lg:w-full lg:max-w-[58%]"
      />
    </header>

    <div class="mx-auto flex w-full max-w-7xl flex-col gap-5 p-4">
      <section class="flex flex-col gap-3 bg-white p-4" aria-label="What is asked">
        <div v-for="(m, i) in order.molds" :key="m.mold" class="flex flex-wrap items-end gap-4">
          <label class="w-28"
            >Baits<TypedField
              figure
              :label="`Baits of ${page.molds[i]?.name}`"
              :value="String(m.count)"
              :says="said(`molds.${i}.count`)"
              @typed="(t) => setMold(i, { count: whole(t) })"
            />
          </label>
          <div class="w-64">
            of
            <ListPicker
              :model-value="m.mold"
              label="Mold"
              :options="moldChoices"
              @update:model-value="(v) => setMold(i, { mold: v })"
            />
          </div>
          <label class="w-40"
            >Molds at hand<TypedField
              figure
              label="Molds at hand"
              :value="String(m.copies)"
              :says="said(`molds.${i}.copies`)"
              @typed="(t) => setMold(i, { copies: whole(t) })"
            />
          </label>
          <button
            v-if="order.molds.length > 1 && open"
            type="button"
            class="link min-h-11"
            @click="change({ molds: order.molds.filter((o) => o !== m) })"
          >
            Leave it out
          </button>
          <ProblemNote class="basis-full" :says="said(`molds.${i}.count`) ?? said(`molds.${i}.copies`)" />
        </div>
        <ProblemNote :says="said('molds')" />
        <template v-if="open">
          <div class="flex flex-wrap items-end gap-4">
            <div class="w-64">
              <ListPicker
                v-model="adding"
                label="Another mold"
                :options="[{ key: '', name: 'Another mold as well…' }, ...moldChoices]"
                @update:model-value="addMold"
              />
            </div>
            <label class="w-28"
              >Spares, %<TypedField
                figure
                label="Spares in per cent"
                :value="String(order.sparePercent)"
                :says="said('sparePercent')"
                @typed="(t) => change({ sparePercent: percent(t) })"
              />
            </label>
            <label class="w-28"
              >To a pack<TypedField
                figure
                label="Baits to a pack"
                :value="String(order.packOf)"
                :says="said('packOf')"
                @typed="(t) => change({ packOf: whole(t) })"
              />
            </label>
            <label v-for="(c, i) in order.cups" :key="i" class="w-44"
              ><span class="block truncate">{{ c.name }} at</span
              ><TypedField
                figure
                :label="`${c.name} goes in at`"
                :value="degrees(c.pourC)"
                :says="said(`cups.${i}.pourC`)"
                @typed="(t) => change({ cup: i, pourC: t })"
              />
            </label>
          </div>
          <ProblemNote :says="problem && /^(cups|sparePercent|packOf)/.test(problem.field) ? problem.message : ''" />
          <div class="flex flex-wrap items-center gap-3">
            <div class="switch" role="group" aria-label="Degassed">
              <button
                v-for="d in degasChoices"
                :key="d.key"
                type="button"
                :aria-pressed="order.degas === d.key"
                @click="change({ degas: d.key })"
              >
                {{ d.word }}
              </button>
            </div>
            <div class="switch" role="group" aria-label="When colour goes in">
              <button
                v-for="c in colourChoices"
                :key="c.word"
                type="button"
                :aria-pressed="!!order.colourRaw === c.raw"
                @click="change({ colourRaw: c.raw })"
              >
                {{ c.word }}
              </button>
            </div>
            <div class="switch" role="group" aria-label="Molds">
              <button type="button" :aria-pressed="!order.warm" @click="change({ warm: false })">Molds cold</button>
              <button type="button" :aria-pressed="order.warm" @click="change({ warm: true })">warmed</button>
            </div>
            <ToggleChip :on="order.whole" @click="change({ whole: !order.whole })">Fill every cavity</ToggleChip>
            <button v-if="order.later?.length" type="button" class="button" @click="change({ unmove: true })">
              Steps back where they were
            </button>
            <button type="button" class="button" @click="change({ again: true })">Read the cups again</button>
            <RouterLink to="/kit" class="link ml-auto min-h-11 content-center">Kit</RouterLink>
          </div>
        </template>
      </section>

      <ProblemNote :says="page.fault" />
      <WaysOut
        v-if="planned?.impossible"
        :pour="uid"
        :revision="page.revision"
        :impossible="planned.impossible"
        @take="(o) => change({ order: o })"
      />
      <ul v-if="planned?.watch.length" class="flex flex-col gap-1">
        <li v-for="(w, i) in planned.watch" :key="i" class="says">{{ w }}</li>
      </ul>
      <section v-if="planned?.timeline" :class="busy && 'opacity-60'">
        <h2 class="pb-2">
          The order of the work
          <span class="font-normal text-slate">{{
            planned.timeline.proven ? 'load by load, no order is sooner' : 'the best order that was found'
          }}</span>
        </h2>
        <TimelineChart
          :timeline="planned.timeline"
          :cooks="planned.cooks"
          :swatches="page.cups.map((c) => c.hex)"
          :tick-s="page.tickS"
          :still="!open"
          @move="move"
        />
      </section>
      <template v-if="planned">
        <section>
          <h2 class="pb-2">Cups</h2>
          <CookCards :planned="planned" :swatches="page.cups" :currency="page.currency" />
        </section>
        <div class="grid gap-5 lg:grid-cols-2">
          <section class="bg-white p-4">
            <h2 class="pb-2">Into the molds</h2>
            <p v-for="(s, i) in loads" :key="i" class="py-1">
              <span class="font-semibold">{{ s.name }}</span>, {{ shotSays(s) }}
            </p>
            <p v-for="m in planned.molds" :key="m.mold" class="figure py-1">
              {{ m.name }}: {{ m.fills }} fills, {{ m.made }} baits.
            </p>
            <h2 class="pt-4 pb-2">Where it goes</h2>
            <p class="figure">
              {{ planned.inML.toFixed(0) }} ml in, {{ planned.leftML.toFixed(0) }} ml to be melted again.
            </p>
            <div
              v-for="g in planned.goes"
              :key="g.what"
              class="grid grid-cols-[11rem_1fr_4.5rem] items-center gap-2 py-0.5"
            >
              <span>{{ g.what }}</span>
              <span
                class="h-3"
                :class="g.left ? 'bg-cloud' : 'bg-storm'"
                :style="{ width: `${(100 * g.ml) / most}%` }"
              />
              <span class="figure text-right">{{ g.ml.toFixed(1) }} ml</span>
            </div>
            <RestUses v-if="open" :cooks="planned.cooks" :cups="order.cups" />
          </section>
          <section class="bg-white p-4">
            <h2 class="pb-2">From the shelf</h2>
            <table class="w-full">
              <tbody>
                <tr v-for="n in planned.needs" :key="n.material" class="border-t border-fog">
                  <td class="py-1.5">
                    <RouterLink :to="`/shelf/${n.material}`" class="underline decoration-haze underline-offset-4">{{
                      n.name
                    }}</RouterLink>
                  </td>
                  <td class="figure py-1.5 text-right font-semibold">
                    {{ n.amount < 10 ? n.amount.toFixed(2) : n.amount.toFixed(0) }} {{ n.unit }}
                  </td>
                  <td class="figure py-1.5 pl-4 text-right text-slate">
                    <span v-if="n.shortBy > 0" class="font-semibold text-ink"
                      >{{ n.shortBy.toFixed(1) }} {{ n.unit }} lacking</span
                    >
                    <template v-else-if="n.counted">of {{ n.left.toFixed(0) }}</template>
                    <template v-else>not counted</template>
                  </td>
                </tr>
              </tbody>
            </table>
            <p v-if="planned.cost > 0" class="figure pt-3">
              {{ money(planned.cost) }} in all, {{ money(planned.perBait) }} a bait<template v-if="planned.packs"
                >, {{ money(planned.perPack) }} a pack</template
              >.
            </p>
          </section>
        </div>
      </template>
    </div>
  </section>
  <section v-else-if="error" class="p-8"><ProblemNote :says="error.message" /></section>
</template>
