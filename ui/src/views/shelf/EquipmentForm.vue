<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'

import { api, ask, problemOf, type Problem, type Equipment } from '@/api/client'
import ProblemNote from '@/parts/ProblemNote.vue'
import TypedField from '@/parts/TypedField.vue'

import HeaterTrial from './HeaterTrial.vue'

// What the bench heats, holds and shoots with: registered once, planned with ever after. A bench without any of it but a microwave is a bench.
const client = useQueryClient()
const { data: kit } = useQuery({ queryKey: ['equipment'], queryFn: () => ask(api.GET('/equipment')) })
const problem = ref<Problem>()
async function keep(change: Partial<Equipment>) {
  problem.value = undefined
  const { revision: seen, ...now } = { ...kit.value!, ...change }
  try {
    client.setQueryData(['equipment'], await ask(api.PUT('/equipment', { body: { ...now, seen } })))
    await client.invalidateQueries({ queryKey: ['pours'] })
  } catch (e) {
    problem.value = problemOf(e)
    if (problem.value.status === 409) await client.invalidateQueries({ queryKey: ['equipment'] })
  }
}
const number = (typed: string) => {
  const n = Number(
    typed
      .replace(/ml|W|%/gi, '')
      .replace(',', '.')
      .trim(),
  )
  return typed.trim() === '' || Number.isNaN(n) ? -999 : n
}
type Heater = Equipment['heaters'][number]
type Injector = Equipment['injectors'][number]
const setHeater = (i: number, now: Partial<Heater>) =>
  keep({ heaters: kit.value!.heaters.map((h, k) => (k === i ? { ...h, ...now } : h)) })
const setInjector = (i: number, now: Partial<Injector>) =>
  keep({ injectors: kit.value!.injectors.map((j, k) => (k === i ? { ...j, ...now } : j)) })
const newHeater = (): Heater => ({
  name: 'Another microwave',
  pot: false,
  powerW: 1000,
  mostML: 480,
  efficiency: 0.5,
  coolPerS: 0.0008,
})
const newInjector = (): Injector => ({ name: 'Injector', ml: 120, barrels: 1, count: 1, plugML: 6, purgeML: 2 })
const trying = ref(-1)
const barrels = ['', 'Single', 'Dual', 'Triple']
const fahrenheit = (c: number) => String(Math.round(c * 1.8 + 32))
const celsius = (typed: string) => {
  const c = /c\s*$/i.test(typed)
  const n = number(typed.replace(/[°fc]/gi, ''))
  return n === -999 ? -999 : c ? n : (n - 32) / 1.8
}
const warm = (c: number) => ({ value: `${fahrenheit(c)} °F`, also: `${Math.round(c)} °C`, read: celsius })
type Row = { label: string; key: string; value: string; also?: string; read: (typed: string) => number }
const rows = computed((): Row[] => {
  const k = kit.value!
  return [
    { label: 'Largest cup, ml', key: 'cupML', value: String(k.cupML), read: number },
    { label: 'Least that heats evenly, ml', key: 'leastML', value: String(k.leastML), read: number },
    { label: 'Plastisol is measured to, ml', key: 'stepML', value: String(k.stepML), read: number },
    { label: 'Blending blocks', key: 'blocks', value: String(k.blocks), read: number },
    { label: 'Places on the hot plate', key: 'platePlaces', value: String(k.platePlaces), read: number },
    { label: 'A mold from the plate, °F or °C', key: 'plateC', ...warm(k.plateC) },
    { label: 'The room, °F or °C', key: 'roomC', ...warm(k.roomC) },
    { label: 'Pairs of hands', key: 'hands', value: String(k.hands), read: number },
    {
      label: 'Cold volume of 100 ml hot',
      key: 'shrink',
      value: String(Math.round(1000 * k.shrink) / 10),
      read: (t: string) => number(t) / 100,
    },
    {
      label: 'Topped off, % of the shrinkage',
      key: 'topUp',
      value: String(Math.round(100 * k.topUp)),
      read: (t: string) => number(t) / 100,
    },
    { label: 'Stays in a cup, ml', key: 'cupLossML', value: String(Math.round(10 * k.cupLossML) / 10), read: number },
    {
      label: 'Layers bond from, °F or °C (0: usual)',
      key: 'bondC',
      ...(k.bondC ? warm(k.bondC) : { value: '0' }),
      read: (t: string) => (t.trim() === '0' ? 0 : celsius(t)),
    },
  ]
})
const said = (key: string) => (problem.value?.field === key ? problem.value.message : undefined)
</script>

<template>
  <div v-if="kit" class="flex flex-col gap-4" data-testid="equipment">
    <h2>What the bench heats, holds and shoots with</h2>
    <ul class="flex flex-col gap-3">
      <li v-for="(h, i) in kit.heaters" :key="i" class="flex flex-col gap-2 bg-white p-3">
        <div class="flex flex-wrap items-end gap-3">
          <label class="min-w-44 flex-1"
            >{{ h.pot ? 'Hot pot' : 'Microwave'
            }}<TypedField
              label="Its name"
              :value="h.name"
              :says="said(`heaters.${i}.name`)"
              @typed="(t) => setHeater(i, { name: t })"
          /></label>
          <label class="w-24"
            >Power, W<TypedField
              figure
              label="Power in watts"
              :value="String(h.powerW)"
              :says="said(`heaters.${i}.powerW`)"
              @typed="(t) => setHeater(i, { powerW: number(t) })"
          /></label>
          <label class="w-24"
            >Takes, ml<TypedField
              figure
              label="Takes at most"
              :value="String(h.mostML)"
              :says="said(`heaters.${i}.mostML`)"
              @typed="(t) => setHeater(i, { mostML: number(t) })"
          /></label>
          <button type="button" class="button" :aria-pressed="h.pot" @click="setHeater(i, { pot: !h.pot })">
            Hot pot
          </button>
          <button type="button" class="button" @click="trying = trying === i ? -1 : i">By two readings</button>
          <button
            v-if="kit.heaters.length > 1"
            type="button"
            class="link min-h-11"
            @click="keep({ heaters: kit.heaters.filter((_, k) => k !== i) })"
          >
            Forget it
          </button>
        </div>
        <p class="figure text-slate">
          {{ Math.round(100 * h.efficiency) }} % of its power arrives in the cup; 240 ml at 350 °F (177 °C) lose
          {{ (h.coolPerS * 60 * (350 - Number(fahrenheit(kit.roomC)))).toFixed(0) }} °F a minute.
          {{ h.found ? `Found by ${h.found}.` : 'Usual figures; two readings of one cup find yours.' }}
        </p>
        <HeaterTrial v-if="trying === i" :heater="i" :seen="kit.revision" @done="trying = -1" />
      </li>
    </ul>
    <button type="button" class="button self-start" @click="keep({ heaters: [...kit.heaters, newHeater()] })">
      Another microwave or pot
    </button>
    <ul class="flex flex-col gap-3">
      <li v-for="(j, i) in kit.injectors" :key="i" class="flex flex-wrap items-end gap-3 bg-white p-3">
        <svg viewBox="0 0 64 24" class="mb-2 h-8 w-20" aria-hidden="true">
          <g v-for="b in j.barrels" :key="b" :transform="`translate(0 ${(24 / j.barrels) * (b - 0.5) - 3})`">
            <path
              d="M4 3h10M14 0h34v6H14zM48 1.500h4l6 1.500-6 1.500h-4"
              fill="none"
              stroke="currentColor"
              stroke-width="1.2"
            />
          </g>
        </svg>
        <label class="min-w-40 flex-1"
          >{{ barrels[j.barrels] }} injector<TypedField
            label="Its name"
            :value="j.name"
            :says="said(`injectors.${i}.name`)"
            @typed="(t) => setInjector(i, { name: t })"
        /></label>
        <label class="w-24"
          >Barrel, ml<TypedField
            figure
            label="A barrel in ml"
            :value="String(j.ml)"
            :says="said(`injectors.${i}.ml`)"
            @typed="(t) => setInjector(i, { ml: number(t) })"
        /></label>
        <label class="w-20"
          >Barrels<TypedField
            figure
            label="Barrels"
            :value="String(j.barrels)"
            :says="said(`injectors.${i}.barrels`)"
            @typed="(t) => setInjector(i, { barrels: Math.round(number(t)) })"
        /></label>
        <label class="w-20"
          >How many<TypedField
            figure
            label="How many of them"
            :value="String(j.count)"
            :says="said(`injectors.${i}.count`)"
            @typed="(t) => setInjector(i, { count: Math.round(number(t)) })"
        /></label>
        <label class="w-20"
          >Plug, ml<TypedField
            figure
            label="Plug in ml"
            :value="String(j.plugML)"
            :says="said(`injectors.${i}.plugML`)"
            @typed="(t) => setInjector(i, { plugML: number(t) })"
        /></label>
        <label class="w-24"
          >Purge, ml<TypedField
            figure
            label="Pushed out before, in ml"
            :value="String(j.purgeML)"
            :says="said(`injectors.${i}.purgeML`)"
            @typed="(t) => setInjector(i, { purgeML: number(t) })"
        /></label>
        <button
          type="button"
          class="link min-h-11"
          @click="keep({ injectors: kit.injectors.filter((_, k) => k !== i) })"
        >
          Forget it
        </button>
      </li>
      <li v-if="!kit.injectors.length" class="text-slate">No injector: all is poured by hand.</li>
    </ul>
    <button type="button" class="button self-start" @click="keep({ injectors: [...kit.injectors, newInjector()] })">
      Another injector
    </button>
    <div class="grid gap-x-8 gap-y-2 bg-white p-3 md:grid-cols-2">
      <label v-for="r in rows" :key="r.key" class="flex min-h-11 items-center justify-between gap-3"
        ><span
          >{{ r.label }}<span v-if="r.also" class="figure text-slate"> · {{ r.also }}</span></span
        ><span class="w-24 shrink-0"
          ><TypedField
            figure
            :label="r.label"
            :value="r.value"
            :says="said(r.key)"
            @typed="(t) => keep({ [r.key]: r.read(t) })"
        /></span>
      </label>
      <label class="flex min-h-11 items-center gap-3">
        <button type="button" class="button" :aria-pressed="kit.vacuum" @click="keep({ vacuum: !kit.vacuum })">
          Vacuum chamber
        </button>
        {{ kit.vacuum ? 'one' : 'none' }}
      </label>
      <label class="flex min-h-11 items-center gap-3">
        <button type="button" class="button" :aria-pressed="!kit.throws" @click="keep({ throws: !kit.throws })">
          Keep leftovers
        </button>
        {{ kit.throws ? 'all is thrown away' : 'melted again' }}
      </label>
      <p v-if="kit.lossRuns" class="figure content-center text-slate">
        What stays in a cup was learned from {{ kit.lossRuns === 1 ? 'one cook' : `${kit.lossRuns} cooks` }}.
      </p>
    </div>
    <ProblemNote :says="problem?.message" />
    <p class="text-slate">
      Microwave and hot plate are kept for this work only, never for food. Let air into the vacuum chamber slowly.
    </p>
  </div>
</template>
