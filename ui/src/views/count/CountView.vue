<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { useEventListener, useLocalStorage, useWakeLock } from '@vueuse/core'
import { computed, onScopeDispose, ref, watch } from 'vue'
import { RouterLink, useRoute } from 'vue-router'

import { api, ask, saysOf } from '@/api/client'
import ColourPatch from '@/parts/ColourPatch.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import ToggleChip from '@/parts/ToggleChip.vue'
import { amount } from '@/use/amount'
import { useCup, type View } from '@/use/cup'
import { useShelf, useShop } from '@/use/shop'
import SetAside from '@/views/bench/SetAside.vue'

// Counting with hands full: one large area, or a key (a foot pedal is a key), is one drop. Each is kept with its
// time; a pause begins the next addition.
const route = useRoute()
const uid = computed(() => route.params.cup as string)
const cup = useCup(
  uid,
  computed<View>(() => ({})),
)
const { bottles, byUID, nameOf } = useShelf()
const { data: shop } = useShop()
const material = ref('')
// The cup's own bottles first, as it was when it was opened: nothing moves while one counts.
const own = ref<string[]>()
const counted = computed(() => {
  const list = bottles.value.filter((b) => b.colours)
  const place = (uid: string) => (own.value?.includes(uid) ? 0 : 1)
  return [...list].sort((a, b) => place(a.uid) - place(b.uid))
})
const bottle = computed(() => byUID.value.get(material.value))
const dose = computed(() => cup.state.value?.cup.doses.find((d) => d.material === material.value))
// What the program has not taken yet is counted here meanwhile.
const total = computed(() => {
  const d = dose.value
  const ahead = cup.ahead(material.value)
  if (!ahead) return d ? amount(d) : '0'
  if (d && (d.amount.unit !== 'drops' || d.amount.high)) return `${amount(d)} + ${ahead}`
  return String(Number(((d?.amount.value ?? 0) + ahead).toFixed(2)))
})
const drip = (drops: number) => {
  if (!material.value) return
  cup.take({ kind: 'drip', material: material.value, drops })
  signal()
}

// For eyes that are on the bottle: a tick for each drop, or the count spoken.
const signals = ['silent', 'tick', 'voice'] as const
const signalled = useLocalStorage<string>('signal', 'silent')
let sound: AudioContext | undefined
function signal() {
  if (signalled.value === 'tick') {
    sound ??= new AudioContext()
    const tone = sound.createOscillator()
    const fade = sound.createGain()
    tone.frequency.value = 1200
    fade.gain.setValueAtTime(0.3, sound.currentTime)
    fade.gain.exponentialRampToValueAtTime(0.001, sound.currentTime + 0.05)
    tone.connect(fade).connect(sound.destination)
    tone.start()
    tone.stop(sound.currentTime + 0.06)
  } else if (signalled.value === 'voice' && 'speechSynthesis' in window) {
    speechSynthesis.cancel() // the newest count is the one that matters
    speechSynthesis.speak(new SpeechSynthesisUtterance(total.value))
  }
}
onScopeDispose(() => void sound?.close())

const { data: log } = useQuery({
  queryKey: ['log', uid, () => cup.state.value?.head],
  queryFn: () => ask(api.GET('/cups/{cup}/log', { params: { path: { cup: uid.value }, query: {} } })),
  placeholderData: (was) => was,
  staleTime: 0, // one head can stand for two contents: undone, and counted anew
  enabled: computed(() => !!cup.state.value),
})
const additions = computed(() => [...(log.value?.additions ?? [])].reverse())

// It opens on what was dripped last. In a cup without anything it waits to be told: a wrong colour can't be taken out again.
watch(
  [cup.state, log],
  () => {
    own.value ??= cup.state.value?.cup.doses.map((d) => d.material)
    if (material.value || !log.value || !cup.state.value) return
    const last = log.value.log.findLast((t) => t.step.material && ['drip', 'add'].includes(t.step.kind))
    material.value = last?.step.material ?? cup.state.value.cup.doses.at(-1)?.material ?? ''
  },
  { immediate: true },
)

// Space, Enter and the pedal's own key count, where nothing else has the focus; every other key keeps its work.
const pedal = useLocalStorage<string>('pedal', 'PageDown')
const learning = ref(false)
function key(e: KeyboardEvent) {
  const at = document.activeElement
  if (e.repeat || e.ctrlKey || e.metaKey || e.altKey) return
  if (learning.value) {
    e.preventDefault()
    learning.value = false
    if (e.key === 'Escape') return
    pedal.value = e.code || e.key
    return
  }
  if (at && at !== document.body && !at.closest('[data-testid="count-area"]')) return
  if (e.key === ' ' || e.key === 'Enter' || (e.code || e.key) === pedal.value) drip(1)
  else if (e.key === 'Backspace') cup.undo()
  else return
  e.preventDefault()
}
// What was pressed with a hand gives the focus back, so that the next key counts.
const release = (e: MouseEvent) => {
  if (e.detail > 0) (e.currentTarget as HTMLElement).blur()
}
useEventListener('keydown', key)

// The screen stays on while drops are counted.
const awake = useWakeLock()
if (awake.isSupported.value) awake.request('screen').catch(() => undefined) // refused, as on a low battery: counting goes on
onScopeDispose(() => void awake.release())

// By weight: the bottle before and after.
const before = ref<number>()
const weighed = ref('')
const scaleAbout = ref('')
const says = ref('')
async function weigh() {
  says.value = ''
  try {
    const got = await ask(api.GET('/materials/{material}/weight', { params: { path: { material: material.value } } }))
    scaleAbout.value = got.about
    if (before.value === undefined) {
      before.value = got.grams
      weighed.value = ''
      return
    }
    const grams = before.value - got.grams
    before.value = undefined
    weighed.value = `${grams.toFixed(2)} g left the bottle`
    if (grams > 0) cup.take({ kind: 'add', material: material.value, typed: `${grams.toFixed(2)} g` })
  } catch (e) {
    says.value = saysOf(e)
  }
}
watch(material, () => {
  before.value = undefined
  weighed.value = ''
})
const some = ref('')
function addSome() {
  if (some.value.trim()) cup.take({ kind: 'add', material: material.value, typed: `some, ${some.value.trim()}` })
  some.value = ''
}
</script>

<template>
  <section v-if="cup.state.value" class="grid flex-1 grid-cols-1 lg:grid-cols-[20rem_minmax(0,1fr)_22rem]">
    <div class="flex flex-col gap-2 overflow-y-auto border-r border-haze bg-mist p-3 max-lg:max-h-72 lg:max-h-dvh">
      <h2>What drips</h2>
      <button
        v-for="b in counted"
        :key="b.uid"
        type="button"
        class="flex min-h-12 shrink-0 items-stretch gap-3 overflow-hidden rounded-xl bg-white pr-3 text-left"
        :class="material === b.uid ? 'bg-ink! font-semibold text-white!' : ''"
        :aria-pressed="material === b.uid"
        :data-count="b.uid"
        @click="((material = b.uid), ($event.currentTarget as HTMLElement).blur())"
      >
        <ColourPatch :hex="b.swatch.hex" :name="b.name" class="w-5 shrink-0" />
        <span class="self-center leading-tight">{{ b.name }}</span>
      </button>
    </div>
    <div class="surround flex min-h-[70dvh] flex-col max-lg:order-first">
      <button
        type="button"
        class="flex flex-1 flex-col items-center justify-center gap-2 text-center select-none active:bg-black/10"
        :aria-label="`One more of ${bottle?.name}`"
        data-testid="count-area"
        @pointerdown.prevent="drip(1)"
      >
        <span class="text-2xl">{{ bottle?.name }}</span>
        <span class="figure max-w-full text-[7rem] leading-none font-semibold break-words" data-testid="total">{{
          total
        }}</span>
        <span class="text-xl">{{ dose?.amount.unit === 'drops' || !dose ? 'drops in this cup' : 'in this cup' }}</span>
        <span class="pt-4">{{
          bottle ? `Tap here, or press space, Enter or the pedal: ${bottle.step}` : 'Choose what drips'
        }}</span>
      </button>
      <div class="flex items-center gap-3 px-4" data-testid="so-far">
        <img
          :src="cup.state.value.bait.png"
          alt="A bait of this cup, predicted"
          class="h-24 max-w-[45%] min-w-0 object-contain"
        />
        <template v-if="cup.state.value.targetSwatch && cup.state.value.cup.target">
          <ColourPatch :hex="cup.state.value.look.swatch.hex" name="This cup" class="h-24 min-w-8 flex-1" />
          <ColourPatch
            :hex="cup.state.value.targetSwatch.hex"
            :name="cup.state.value.cup.target.name"
            class="-ml-3 h-24 min-w-8 flex-1"
          />
          <p v-if="cup.state.value.look.against" class="w-32 leading-tight sm:w-40">
            {{ cup.state.value.look.against.nearness }}, ΔE00
            <span class="figure">{{ cup.state.value.look.against.deltaE00.toFixed(1) }}</span> to
            {{ cup.state.value.cup.target.name }}
          </p>
        </template>
      </div>
      <div class="flex flex-wrap gap-2 p-4">
        <button
          v-for="n in [1, 5, 10]"
          :key="n"
          type="button"
          class="button figure min-h-16 flex-1 text-2xl"
          :disabled="!bottle"
          @click="(drip(n), release($event))"
        >
          +{{ n }}
        </button>
        <button
          type="button"
          class="button min-h-16 flex-1 text-xl max-sm:px-1 max-sm:text-base"
          :disabled="!cup.state.value.canUndo"
          @click="(cup.undo(), release($event))"
        >
          Undo
        </button>
        <RouterLink
          :to="`/bench/${uid}`"
          class="button button-main min-h-16 flex-1 text-center text-xl leading-tight max-sm:px-1 max-sm:text-sm"
          >To the bench</RouterLink
        >
      </div>
      <ProblemNote class="mx-4 mb-4 text-ink" :says="cup.problem.value?.message" />
      <SetAside class="mx-4 mb-4" :cup="cup" />
      <p v-if="cup.unreachable.value" class="px-4 pb-4 font-semibold" role="status">
        Cloudburst does not answer. {{ cup.waiting.value }} of your taps wait here and are sent again.
      </p>
    </div>
    <div class="flex flex-col gap-5 overflow-y-auto border-l border-haze bg-mist p-4 lg:max-h-dvh">
      <section v-if="shop?.scale" class="flex flex-col gap-2">
        <h2>By weight</h2>
        <button type="button" class="button" @click="weigh">
          {{ before === undefined ? 'Weigh the bottle before' : 'Weigh it after' }}
        </button>
        <p v-if="before !== undefined" class="figure">{{ before.toFixed(2) }} g before</p>
        <p v-if="weighed" class="figure" data-testid="weighed">{{ weighed }}</p>
        <p v-if="scaleAbout" class="text-slate">{{ scaleAbout }}</p>
        <ProblemNote :says="says" />
      </section>
      <section class="flex flex-col gap-2">
        <h2>Foot pedal</h2>
        <button type="button" class="button" @click="((learning = true), release($event))">
          {{ learning ? 'Step on it now' : 'Learn my pedal' }}
        </button>
        <p class="text-slate">
          A pedal is a key; yours is <span class="figure">{{ pedal }}</span>.
        </p>
      </section>
      <section class="flex flex-col gap-2">
        <h2>With each drop</h2>
        <div class="flex gap-2">
          <ToggleChip
            v-for="s in signals"
            :key="s"
            class="flex-1"
            :on="signalled === s"
            @click="((signalled = s), release($event as MouseEvent))"
            >{{ { silent: 'Silence', tick: 'A tick', voice: 'Say it' }[s] }}</ToggleChip
          >
        </div>
      </section>
      <form class="flex flex-col gap-2" @submit.prevent="addSome">
        <h2>Some went in</h2>
        <div class="flex gap-2">
          <input v-model="some" class="field figure" type="text" placeholder="2-5 drops" aria-label="About how much" />
          <button type="submit" class="button">Add</button>
        </div>
        <p class="text-slate">A guess with a range; narrow it later on the bench.</p>
      </form>
      <section class="flex flex-col gap-2">
        <h2>Addition by addition</h2>
        <p v-if="!additions.length" class="text-slate">Nothing yet. A pause of 20 seconds begins the next addition.</p>
        <ol class="flex flex-col gap-2">
          <li v-for="(g, i) in additions" :key="additions.length - i" class="bg-white px-3 py-2" data-addition>
            <span class="font-semibold">Addition {{ additions.length - i }}</span>
            <p v-for="d in g.doses" :key="d.material">
              <span class="figure">{{ d.typed }}</span> {{ nameOf(d.material) }}
            </p>
          </li>
        </ol>
      </section>
    </div>
  </section>
  <section v-else-if="cup.missing.value" class="max-w-2xl p-8">
    <h1>This cup is not here</h1>
    <p class="mt-4"><RouterLink to="/bench" class="button button-main">The cup that was touched last</RouterLink></p>
  </section>
</template>
