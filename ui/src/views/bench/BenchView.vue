<script setup lang="ts">
import { Tab, TabGroup, TabList } from '@headlessui/vue'
import { useQueryClient } from '@tanstack/vue-query'
import { computed, onScopeDispose, ref, shallowRef, watch } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'

import { api, ask, saysOf, type BenchState, type Bottle, type Cup, type Step } from '@/api/client'
import JudgeSwitch from '@/parts/JudgeSwitch.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import { useCup, type View, type Wish } from '@/use/cup'
import { useShelf, useShop } from '@/use/shop'
import StarterRack from '@/views/shelf/StarterRack.vue'

import BaitStrip from './BaitStrip.vue'
import BenchTests from './BenchTests.vue'
import BottleRack from './BottleRack.vue'
import CorrectDialog from './CorrectDialog.vue'
import CupSwitcher from './CupSwitcher.vue'
import CupLines from './CupLines.vue'
import LiveCup from './LiveCup.vue'
import LookBeside from './LookBeside.vue'
import RecordDialog from './RecordDialog.vue'
import RungsDialog from './RungsDialog.vue'
import SaveDialog from './SaveDialog.vue'
import SetAside from './SetAside.vue'
import SwapDialog, { type Swap } from './SwapDialog.vue'
import ViewControls from './ViewControls.vue'
import WedgeView from './WedgeView.vue'

const route = useRoute()
const router = useRouter()
const { data: shop } = useShop()
const shelf = useShelf()
const client = useQueryClient()

const cupUID = computed(() => (route.params.cup as string) || '')
const view = computed<View>(() => {
  const { t, ground, light, state, tilt, water, depth, distance, bait, from, judge } = route.query
  const v: View = {}
  if (Number(t) > 0) v.thickness = Number(t)
  if (ground) v.ground = ground as NonNullable<View['ground']>
  if (light) v.light = light as NonNullable<View['light']>
  if (state) v.state = state as NonNullable<View['state']>
  if (Number(tilt) > 0) v.tilt = Number(tilt)
  if (bait) v.bait = bait as string
  if (from) v.baitView = from as string
  if (judge === 'yes') v.judge = true
  if (water) {
    v.water = water as NonNullable<View['water']>
    v.depth = Number(depth) || 0
    v.distance = Number(distance) || 0
  }
  return v
})
const cup = useCup(cupUID, view)
const state = cup.state
const saving = ref(false)
const dripped = shallowRef<{ bottle: Bottle }>()
const tapped = shallowRef<{ material: string }>() // the line that a tap on the shelf is about
function dripFromShelf(material: string) {
  take({ kind: 'drip', material, drops: 1 })
  tapped.value = { material }
}
function take(step: Step) {
  const bottle = shelf.byUID.value.get(step.material ?? '')
  if (bottle && step.kind === 'drip' && (step.drops ?? 0) > 0) dripped.value = { bottle }
  cup.take(step)
}
const swapping = ref<Swap>()
const rungs = ref<{ what: 'ladder' | 'bases'; of: string }>() // more and more of a material, or a flake in other bases
const correcting = ref(false)
const recording = ref(false)
const emptyBench = ref('')
const tabs = ['Shelf', 'This cup', 'Quick tests'] as const
const tab = ref<(typeof tabs)[number]>('Shelf')

const see = (change: Record<string, string>) => router.replace({ query: { ...route.query, ...change } })

// Where a quick picture of the cup's bait is, while it is turned.
const quick = (baitView: string) => {
  const query = Object.entries({ ...view.value, baitView }).map(([k, v]) => [k, String(v)])
  return `/api/v1/cups/${cupUID.value}/turn?${new URLSearchParams(query).toString()}`
}

// What the cup would be with one more step of a material, while it is pressed and held. Nothing is stored.
const ahead = ref('')
const aheadState = shallowRef<BenchState>()
async function lookAhead(material: string) {
  ahead.value = material
  aheadState.value = undefined
  if (!material) return
  try {
    const got = await ask(
      api.GET('/cups/{cup}', { params: { path: { cup: cupUID.value }, query: { ...view.value, plus: material } } }),
    )
    if (ahead.value === material) aheadState.value = got
  } catch {
    ahead.value = '' // it can take no more of it: nothing to show
  }
}
const shown = computed(() => aheadState.value ?? state.value)

// A heated cup cools while one looks at it.
const cooling = window.setInterval(() => {
  if (state.value?.warmth) cup.refresh()
}, 30_000)
onScopeDispose(() => window.clearInterval(cooling))

const wishSays = ref('')
async function wish(material: string, wanted: Wish) {
  wishSays.value = ''
  try {
    const got = await ask(
      api.GET('/cups/{cup}/wish', {
        params: { path: { cup: cupUID.value }, query: { ...view.value, material, wish: wanted } },
      }),
    )
    cup.take({ kind: 'dose', material, typed: got.typed })
  } catch (e) {
    wishSays.value = saysOf(e)
  }
}

async function layers() {
  wishSays.value = ''
  try {
    const mold = (route.query.bait as string) || 'paddle-minnow'
    const b = await ask(api.POST('/baits', { body: { cup: cupUID.value, mold, way: 'laminate' } }))
    await client.invalidateQueries({ queryKey: ['baits'] })
    await router.push(`/baits/${b.uid}`)
  } catch (e) {
    wishSays.value = saysOf(e)
  }
}

async function keepPoint() {
  wishSays.value = ''
  try {
    const { recipeName, look } = state.value!
    const name = `${(recipeName || 'Cup').slice(0, 60)} at ${look.thicknessMM} mm`
    const params = { path: { cup: cupUID.value }, query: view.value }
    const kept = await ask(api.POST('/cups/{cup}/reference', { params, body: { name } }))
    await client.invalidateQueries({ queryKey: ['references'] })
    await router.push(`/references/${kept.uid}`)
  } catch (e) {
    wishSays.value = saysOf(e)
  }
}

// Without a cup in the address: the one that was touched last, or a first one.
async function begin() {
  emptyBench.value = ''
  try {
    const last = await ask(api.GET('/cups/latest'))
    if (last.cup) await router.replace(`/bench/${last.cup}`)
    else await newCup()
  } catch (e) {
    emptyBench.value = saysOf(e)
  }
}
watch(cupUID, (uid) => void (uid || begin()), { immediate: true })

async function newCup() {
  const made = await ask(api.POST('/cups', { params: { query: {} }, body: {} }))
  await router.push(`/bench/${made.uid}`)
}

async function freshCup(contents: Cup) {
  wishSays.value = ''
  try {
    const { letter, part } = state.value!.cup
    const made = await ask(
      api.POST('/match/bench', { body: { cups: [{ cup: contents, letter, part, name: state.value!.own }] } }),
    )
    await router.push(`/bench/${made.cups[0]}`)
  } catch (e) {
    wishSays.value = saysOf(e)
  }
}

function saved() {
  saving.value = false
  cup.refresh()
  void client.invalidateQueries({ queryKey: ['recipes'] })
}

function undoKeys(e: KeyboardEvent) {
  if (!(e.ctrlKey || e.metaKey) || e.target instanceof HTMLInputElement || e.target instanceof HTMLTextAreaElement)
    return
  if (e.key === 'z' && !e.shiftKey) cup.undo()
  else if (e.key === 'y' || (e.key === 'z' && e.shiftKey)) cup.redo()
  else return
  e.preventDefault()
}
</script>

<template>
  <section v-if="emptyBench || cup.missing.value" class="max-w-2xl p-8">
    <h1>{{ cup.missing.value ? 'This cup is not here' : 'The bench is empty' }}</h1>
    <ProblemNote v-if="emptyBench" class="mt-4" :says="emptyBench" />
    <StarterRack
      v-if="emptyBench && shelf.query.isSuccess.value && !shelf.bottles.value.length"
      class="mt-4"
      @there="begin"
    />
    <p class="mt-4 flex flex-wrap gap-3">
      <RouterLink v-if="cup.missing.value" to="/bench" class="button button-main"
        >The cup that was touched last</RouterLink
      >
      <RouterLink to="/shelf" class="button">Put bottles on the shelf</RouterLink>
      <RouterLink to="/recipes" class="button">Bring in a recipe file</RouterLink>
    </p>
  </section>

  <section
    v-else-if="state && shop"
    class="grid max-lg:h-[calc(100dvh-4rem)] max-lg:min-h-[36rem] max-lg:grid-rows-[19fr_21fr] max-sm:grid-rows-[2fr_3fr] lg:flex-1 lg:grid-cols-[1fr_25.5rem]"
    @keydown="undoKeys"
  >
    <!-- On a narrow screen each part keeps its own place and scrolls by itself: what is tapped never moves under the finger. -->
    <div
      v-if="shown"
      class="surround flex min-w-0 flex-col gap-3 p-4 max-lg:min-h-0 max-lg:overflow-y-auto lg:h-dvh lg:overflow-y-auto"
    >
      <div class="flex flex-wrap items-center gap-x-3">
        <CupSwitcher
          :state="state"
          :name="state.own || state.recipeName || (state.cup.doses.length ? 'A cup of its own' : 'Clear plastisol')"
          @renamed="cup.refresh"
        />
        <p v-if="cup.unreachable.value" role="status" class="font-semibold">
          Cloudburst does not answer. {{ cup.waiting.value }} of your taps wait here and are sent again.
        </p>
        <p v-else>
          {{
            state.recipeName ? (state.saved ? 'As saved' : 'Changed since it was saved') : 'Not saved as a recipe yet'
          }}
          <template v-if="state.cup.letter || state.cup.part">
            · cup {{ [state.cup.letter, state.cup.part].filter(Boolean).join(', ') }}</template
          >
        </p>
        <p v-if="state.warmth">{{ state.warmth.says }}</p>
        <JudgeSwitch class="ml-auto" :judge="!!view.judge" @judge="(on) => see({ judge: on ? 'yes' : '' })" />
      </div>
      <SetAside :cup="cup" />
      <template v-if="shown.trouble">
        <ProblemNote class="text-ink" :says="shown.trouble" data-testid="trouble" />
      </template>
      <template v-else>
        <ViewControls class="max-lg:order-1" :look="state.look" :shop="shop" @see="see" />
        <p v-if="cup.merged.value" class="says flex items-center justify-between text-ink" role="status">
          Another device is adding to this cup, too. Both are counted.
          <button type="button" class="link min-h-11 px-2" @click="cup.merged.value = false">Good</button>
        </p>
        <BaitStrip
          :dripped="dripped"
          :state="shown"
          :bait="(route.query.bait as string) ?? ''"
          :view="(route.query.from as string) ?? ''"
          :quick="quick"
          @see="see"
        />
        <WedgeView
          :wedge="shown.wedge"
          :shop="shop"
          :mm="state.look.thicknessMM"
          @mm="(mm) => see({ t: String(mm) })"
        />
        <LookBeside :state="shown" :ahead="!!aheadState" @untarget="cup.take({ kind: 'untarget' })">
          <button type="button" class="button mt-1 self-start" @click="correcting = true">What next?</button>
        </LookBeside>
        <p v-if="wishSays" class="says text-ink">{{ wishSays }}</p>
        <div class="flex flex-wrap gap-2">
          <button type="button" class="button" @click="recording = true">Record a test batch</button>
          <button type="button" class="button" @click="layers">Two colours in one bait</button>
          <button
            type="button"
            class="button"
            @click="swapping = { what: 'bait', from: (route.query.bait as string) || 'paddle-minnow' }"
          >
            Same look in another bait
          </button>
          <button type="button" class="button" @click="swapping = { what: 'additive' }">
            The same look with salt, glass or floating spheres
          </button>
          <button type="button" class="button" @click="keepPoint">Keep this point of the wedge as a reference</button>
        </div>
      </template>
    </div>

    <div class="flex min-w-0 flex-col bg-mist max-lg:min-h-0 lg:h-dvh">
      <!-- Of one height whatever is in it, so that the shelf below does not move under a tapping hand. -->
      <CupLines
        class="h-[50%] flex-none lg:h-[62%]"
        :state="state"
        :shelf="shelf.bottles.value"
        :by-u-i-d="shelf.byUID.value"
        :problem="tab === 'This cup' ? undefined : cup.problem.value"
        :ahead="ahead"
        :tapped="tapped"
        @step="take"
        @undo="cup.undo"
        @redo="cup.redo"
        @save="saving = true"
        @fresh="newCup"
        @ahead="lookAhead"
        @swap="(old) => (swapping = { what: 'line', old })"
        @rungs="(what, of) => (rungs = { what, of })"
        @wish="wish"
      />
      <div class="mt-auto flex min-h-0 flex-1 basis-0 flex-col border-t border-haze bg-white">
        <div class="flex px-2">
          <TabGroup :selected-index="tabs.indexOf(tab)" manual @change="(i: number) => (tab = tabs[i]!)">
            <TabList class="flex flex-3">
              <Tab v-for="t in tabs" :key="t" class="tab flex-1">{{ t }}</Tab>
            </TabList>
          </TabGroup>
          <RouterLink :to="`/count/${state.uid}`" class="tab flex flex-1 items-center justify-center">Count</RouterLink>
        </div>
        <BottleRack v-if="tab === 'Shelf'" :bottles="shelf.bottles.value" @drip="dripFromShelf" @ahead="lookAhead" />
        <LiveCup
          v-else-if="tab === 'This cup'"
          :state="state"
          :problem="cup.problem.value"
          @step="cup.take"
          @changed="cup.refresh"
        />
        <BenchTests v-else :state="state" />
      </div>
    </div>
    <SwapDialog
      v-if="swapping"
      :state="state"
      :shelf="shelf.bottles.value"
      :swap="swapping"
      :bait="(route.query.bait as string) || 'paddle-minnow'"
      @close="swapping = undefined"
      @step="cup.take"
    />
    <CorrectDialog
      v-if="correcting"
      :state="state"
      :view="view"
      :name-of="shelf.nameOf"
      @close="correcting = false"
      @steps="(steps) => cup.take(...steps)"
      @fresh="freshCup"
    />
    <RungsDialog
      v-if="rungs"
      :what="rungs.what"
      :cup="state.uid"
      :view="view"
      :material="rungs.of"
      :name="shelf.nameOf(rungs.of)"
      :dose="state.cup.doses.find((d) => d.material === rungs?.of)?.typed ?? ''"
      @close="rungs = undefined"
      @step="cup.take"
    />
    <RecordDialog
      v-if="recording"
      :state="state"
      :mold="(route.query.bait as string) || ''"
      @close="recording = false"
    />
    <SaveDialog v-if="saving" :state="state" @close="saving = false" @saved="saved" />
  </section>
  <p v-else-if="cup.unreachable.value" class="p-8" role="status">Cloudburst does not answer. Trying again…</p>
</template>
