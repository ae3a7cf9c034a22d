<script setup lang="ts">
import { computed, ref, shallowRef } from 'vue'

import { api, ask, saysOf, type BenchState, type Corrected, type Cup, type Move, type Step } from '@/api/client'
import ColourPatch from '@/parts/ColourPatch.vue'
import ListPicker from '@/parts/ListPicker.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import SheetDialog from '@/parts/SheetDialog.vue'
import ToggleChip from '@/parts/ToggleChip.vue'
import type { View } from '@/use/cup'
import { useReferences } from '@/use/lists'
import { useShop } from '@/use/shop'

// What next? From the cup as it stands to its target: by the target that it has, or by what one says is wrong with it.
const props = defineProps<{ state: BenchState; view: View; nameOf: (uid: string) => string }>()
const emit = defineEmits<{ close: []; steps: [steps: Step[]]; fresh: [cup: Cup] }>()

const { data: shop } = useShop()
const whats = computed(() => (shop.value?.moves ?? []) as { key: Move['what']; name: string }[])
const muches: Move['much'][] = ['slight', 'some', 'lot']
const moves = ref<Move[]>([])
const much = ref<Move['much']>('slight')
function say(what: Move['what']) {
  const there = moves.value.find((m) => m.what === what)
  if (there && there.much === much.value) moves.value = moves.value.filter((m) => m !== there)
  else moves.value = [...moves.value.filter((m) => m.what !== what), { what, much: much.value }]
}
const saidAs = (what: Move['what']) => moves.value.find((m) => m.what === what)?.much

const most = ref(3)
const noBleeding = ref(false)
// Between two chips: any pins that are kept.
const { items: references } = useReferences()
const chips = computed(() =>
  (references.value ?? []).flatMap((r) =>
    r.pins.map((p) => ({ key: p.uid, name: `${r.name}: ${p.name}`, lab: p.reading.lab })),
  ),
)
const one = ref('')
const other = ref('')
const between = computed(() => {
  const a = chips.value.find((c) => c.key === one.value)
  const b = chips.value.find((c) => c.key === other.value)
  return a && b && a !== b ? { one: a.lab, other: b.lab, share: 0.5 } : undefined
})

const target = shallowRef(props.state.cup.target)
const targetHex = ref(props.state.targetSwatch?.hex ?? '')
const result = shallowRef<Corrected>()
const problem = ref('')
const busy = ref(false)
const words = computed(() => moves.value.length > 0 || !!between.value)
const said = ref(false)
async function work() {
  problem.value = ''
  busy.value = true
  try {
    const path = { cup: props.state.uid }
    let seeThrough
    target.value = props.state.cup.target
    targetHex.value = props.state.targetSwatch?.hex ?? ''
    said.value = false
    if (words.value) {
      const got = await ask(
        api.POST('/cups/{cup}/said', {
          params: { path, query: props.view },
          body: { moves: moves.value, between: between.value },
        }),
      )
      target.value = got.target
      targetHex.value = got.swatch.hex
      seeThrough = got.seeThrough
      said.value = true
    }
    const t = target.value
    result.value = await ask(
      api.POST('/cups/{cup}/correct', {
        params: { path },
        body: {
          most: most.value,
          allow: { noBleeding: noBleeding.value },
          seeThrough,
          readings: t
            ? [
                {
                  name: t.name,
                  lab: t.lab,
                  thicknessMM: t.thicknessMM,
                  ground: t.ground,
                  state: t.state,
                  error: t.error,
                  exact: t.exact,
                  goodEnough: t.goodEnough,
                },
              ]
            : undefined,
        },
      }),
    )
  } catch (e) {
    result.value = undefined
    problem.value = saysOf(e)
  }
  busy.value = false
}
if (props.state.cup.target) void work()

type Option = Corrected['options'][number]
function take(o: Option) {
  const steps: Step[] = []
  if (said.value && target.value) steps.push({ kind: 'target', target: target.value })
  if (o.kind === 'fresh') {
    emit('fresh', { ...o.cup, target: target.value })
    emit('close')
    return
  }
  if (o.kind === 'clear') steps.push({ kind: 'volume', typed: o.cup.volume.typed })
  for (const d of o.adds) steps.push({ kind: 'add', material: d.material, typed: d.typed })
  emit('steps', steps)
  emit('close')
}
const titles = { add: 'Add', clear: 'Make it more', fresh: 'Start again', leave: 'Leave it' }
const deed = { add: 'It goes in', clear: 'It goes in', fresh: 'A fresh cup', leave: 'Keep it so' }
</script>

<template>
  <SheetDialog title="What next for this cup?" wide @close="emit('close')">
    <p class="pt-1 leading-tight text-slate">
      Of <span class="figure">{{ state.look.finishedML.toFixed(0) }} ml</span> that are in it now. Nothing is ever taken
      out; what is poured no longer counts.
    </p>
    <fieldset class="mt-3 flex flex-wrap gap-2">
      <legend class="pb-1 font-semibold">Say what is wrong with it, if you like</legend>
      <span class="flex w-full gap-2" role="group" aria-label="By how much">
        <ToggleChip v-for="m in muches" :key="m" :on="much === m" @click="much = m">{{
          m === 'lot' ? 'a lot' : m
        }}</ToggleChip>
      </span>
      <ToggleChip v-for="w in whats" :key="w.key" :on="!!saidAs(w.key)" @click="say(w.key)"
        >{{ w.name }}<span v-if="saidAs(w.key)" class="text-sm text-slate">{{ saidAs(w.key) }}</span></ToggleChip
      >
    </fieldset>
    <div v-if="chips.length > 1" class="mt-2 flex flex-wrap items-center gap-2">
      <span>or between</span>
      <ListPicker v-model="one" label="One chip" class="w-56" :options="[{ key: '', name: 'one chip…' }, ...chips]" />
      <span>and</span>
      <ListPicker
        v-model="other"
        label="The other chip"
        class="w-56"
        :options="[{ key: '', name: 'another…' }, ...chips]"
      />
    </div>
    <div class="mt-3 flex flex-wrap items-center gap-2">
      <span>Add at most</span>
      <ToggleChip v-for="n in [1, 2, 3, 4]" :key="n" :on="most === n" @click="most = n">{{ n }}</ToggleChip>
      <ToggleChip :on="noBleeding" @click="noBleeding = !noBleeding">Nothing that bleeds</ToggleChip>
      <button type="button" class="button button-main ml-auto" :disabled="busy" @click="work">Work it out</button>
    </div>
    <ProblemNote class="mt-3" :says="problem || undefined" />
    <p v-if="!result && !problem" class="mt-3">
      {{ state.cup.target ? 'Working it out…' : 'This cup has no target: say what is wrong, then work it out.' }}
    </p>
    <div v-if="result" class="mt-4 flex flex-col gap-3" data-testid="corrections">
      <div class="surround flex h-20 gap-0 p-3">
        <ColourPatch :hex="state.look.swatch.hex" name="Now" class="flex-1" />
        <ColourPatch :hex="targetHex" name="Wanted" class="flex-1" />
        <ColourPatch
          :hex="result.options[0]!.readings[0]?.is.hex ?? targetHex"
          name="After the first way out"
          class="flex-1"
        />
      </div>
      <p class="text-sm text-slate">Now, wanted, and after the first way out.</p>
      <div
        v-for="(o, i) in result.options"
        :key="i"
        class="flex flex-wrap items-center gap-3 border-t border-haze pt-3"
        data-testid="way-out"
      >
        <div class="min-w-0 flex-1">
          <p class="font-semibold">{{ titles[o.kind] }}</p>
          <ul v-if="o.kind !== 'leave'" class="flex flex-wrap gap-x-4">
            <li v-if="o.clearML">
              <span class="figure">{{ o.clearML }} ml</span> clear plastisol
            </li>
            <li v-for="d in o.adds" :key="d.material">
              <span class="figure">{{ d.typed }}</span> {{ nameOf(d.material) }}
            </li>
          </ul>
          <p v-if="o.kind !== 'add'" class="leading-tight">{{ o.says }}</p>
          <p v-if="o.why" class="leading-tight">{{ o.why }}</p>
        </div>
        <p class="text-right">
          ΔE00 <span class="figure text-2xl">{{ o.deltaE00.toFixed(1) }}</span>
        </p>
        <button type="button" class="button" :class="o === result.options[0] && 'button-main'" @click="take(o)">
          {{ deed[o.kind] }}
        </button>
      </div>
    </div>
    <div class="mt-4">
      <button type="button" class="button" @click="emit('close')">Back to the cup</button>
    </div>
  </SheetDialog>
</template>
