<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { refAutoReset, useIntervalFn, useWakeLock } from '@vueuse/core'
import { computed, onMounted, onUnmounted, ref, watch } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'

import { api, ask, saysOf, type RunLine, type RunPage, type RunStep } from '@/api/client'
import ColourPatch from '@/parts/ColourPatch.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import ToggleChip from '@/parts/ToggleChip.vue'
import { clock, degrees } from '@/use/pours'
import { ring, useRun } from '@/use/run'

import PouringPatch from './PouringPatch.vue'
import RunEnd from './RunEnd.vue'
import RunLines from './RunLines.vue'
import TimelineChart from './TimelineChart.vue'

// A run at the bench: what to do now in big type, how long, how hot, what goes in; then what follows. It goes on where it was after a
// reload, and on a second device.
const route = useRoute()
const router = useRouter()
const client = useQueryClient()
const uid = computed(() => route.params.pour as string)
const run = useRun(uid)
const page = run.page
const awake = useWakeLock()
onMounted(() => void awake.request('screen').catch(() => undefined))
onUnmounted(() => void awake.release().catch(() => undefined))
const ms = ref(Date.now())
useIntervalFn(() => (ms.value = Date.now()), 500)

const picked = ref('')
const steps = computed(() => page.value?.state?.steps ?? [])
const doable = computed(() => {
  const keys = page.value?.state?.now ?? []
  return keys.map((k) => steps.value.find((s) => s.key === k)!).filter(Boolean)
})
const step = computed(() => doable.value.find((s) => s.key === picked.value) ?? doable.value[0])
const others = computed(() => doable.value.filter((s) => s.key !== step.value?.key))
const ahead = computed(() => steps.value.filter((s) => s.state === 'waits').slice(0, 5))
const kindOf = { measure: 'cold', colour: 'colour', ready: 'flake' } as const
const cup = computed(() => {
  const k = step.value?.cooks[0]
  return k === undefined ? undefined : page.value?.cups[k]
})
const cook = computed(() => step.value?.cooks[0] ?? 0)
const lines = computed<RunLine[]>(() => {
  const s = step.value
  if (!s || s.cooks.length !== 1 || !(s.kind in kindOf)) return []
  if (s.kind === 'ready' && !s.key.endsWith('.ready1')) return []
  const when = kindOf[s.kind as keyof typeof kindOf]
  return cup.value?.lines.filter((l) => l.when === when) ?? []
})
// What is said of a dose stands in its line already.
const says = computed(() =>
  (step.value?.says ?? []).filter((t) => !lines.value.some((l) => t.includes(l.name) && !t.startsWith('Stir the jug'))),
)

// The clock of a step: down to its end once it has begun, else to when it should begin.
const burst = computed(() => step.value?.burstS ?? 0)
const left = computed(() => (step.value ? (step.value.dueMS - ms.value) / 1000 : 0))
const pouring = computed(() => step.value?.state === 'begun' && ['shoot', 'top', 'tails'].includes(step.value.kind))
const poured = computed(() => {
  const s = step.value
  return s?.beganMS ? (ms.value - s.beganMS) / Math.max(1, s.dueMS - s.beganMS) : 0
})
const rung = ref('')
watch(left, (s) => {
  const it = step.value
  if (it?.state === 'begun' && s <= 0 && s > -3 && rung.value !== it.key) {
    rung.value = it.key
    ring()
  }
})
function begin(s: RunStep) {
  picked.value = s.key
  if (s.cooks.length === 1) read() // what it shows now is from before the step
  run.tell({ kind: 'begin', step: s.key })
}
const typed = ref('')
const about = ref('')
// Counted in part: was that all of it?
const partly = computed(() =>
  lines.value.filter((l) => {
    const is = l.in + run.pending(cup.value?.uid ?? '', l.material)
    return l.drops && is > 0 && is < l.whole - 0.5
  }),
)
const asked = ref('')
function finish(s: RunStep) {
  if (partly.value.length && asked.value !== s.key) asked.value = s.key
  else done(s)
}
function rest(s: RunStep) {
  for (const l of partly.value)
    run.drip(cup.value!.uid, l.material, Math.round(l.whole - l.in - run.pending(cup.value!.uid, l.material)))
  done(s)
}
function done(s: RunStep) {
  asked.value = ''
  held.value = true
  run.tell({ kind: 'done', step: s.key, typed: typed.value, burstS: s.burstS ?? 0 })
  typed.value = ''
  about.value = ''
  picked.value = ''
}
function read() {
  if (!typed.value.trim()) return
  run.tell({ kind: 'read', cook: cook.value, typed: typed.value })
  typed.value = ''
}
async function thermometer() {
  try {
    const r = await ask(
      api.GET('/pours/{pour}/run/cooks/{cook}/temperature', {
        params: { path: { pour: uid.value, cook: cook.value } },
      }),
    )
    typed.value = `${Math.round(r.c * 1.8 + 32)}F`
    about.value = r.about
  } catch (e) {
    about.value = saysOf(e)
  }
}
const noting = ref(false)
const note = ref('')
function writeNote() {
  run.tell({ kind: 'note', note: note.value })
  note.value = ''
  noting.value = false
}
const timeline = ref(window.innerWidth >= 1200)
const ending = ref(false)
const restSays = ref('')
function ended(p: RunPage) {
  page.value = p
  ending.value = false
  void client.invalidateQueries()
}
async function planRest() {
  restSays.value = ''
  try {
    const made = await ask(api.POST('/pours/{pour}/rest', { params: { path: { pour: uid.value } } }))
    await client.invalidateQueries({ queryKey: ['pours'] })
    await router.push(`/pours/${made.uid}`)
  } catch (e) {
    restSays.value = saysOf(e)
  }
}
const cupsNow = computed(() =>
  (page.value?.cooks ?? []).map((c, k) => {
    const curve = page.value!.state.timeline.curves[k]
    const tick = (ms.value - page.value!.startedMS) / 1000 / page.value!.tickS
    const there = page.value!.state.cups[k]?.there ?? false
    const at = curve?.c[Math.max(0, Math.min(curve.c.length - 1, Math.round(tick - (curve?.from ?? 0))))]
    const heat = page.value!.heats[c.of]!
    const v = at ?? page.value!.state.cups[k]?.c ?? 0
    const word = !there
      ? ''
      : v > heat.shotC
        ? 'too hot to shoot'
        : v < heat.leastC
          ? 'too cold to shoot'
          : 'can be shot'
    return { letter: c.letter, name: c.name, there, c: v, word, has: page.value!.cups[k]?.has ?? '' }
  }),
)
// By cup of the order, as the timeline asks.
const looks = computed(() => {
  const out: string[] = []
  for (const [k, c] of (page.value?.cooks ?? []).entries()) out[c.of] ??= page.value!.cups[k]?.look.hex ?? '#8e8e8e'
  return out
})
const held = refAutoReset(false, 300) // the second tap of two quick ones is not meant for the step after
const dueIn = (s: RunStep) => {
  const sec = (s.dueMS - ms.value) / 1000
  return sec > 5 ? `in ${clock(sec)}` : sec > -60 ? 'now' : `${clock(-sec)} late`
}
const whenOf = (s: RunStep) => {
  if (s.state === 'begun') return `under way, ${dueIn(s)}`
  const due = dueIn(s)
  return due === 'now' ? 'can be done now' : due.startsWith('in') ? `can be done now, planned ${due}` : due
}
</script>

<template>
  <section v-if="page" class="flex w-full flex-1 flex-col bg-white">
    <header class="flex flex-wrap items-center gap-x-4 gap-y-2 bg-ink px-4 py-2 text-white">
      <h1 class="text-xl!">{{ page.name }}</h1>
      <p class="figure text-xl">{{ clock((ms - page.startedMS) / 1000) }}</p>
      <p v-if="run.unreachable.value" role="alert" class="rounded-full bg-white px-3 py-1 text-ink">
        No answer. {{ run.waiting.value }} kept here, sent again…
      </p>
      <div class="ml-auto flex flex-wrap gap-2">
        <RouterLink :to="`/pours/${uid}`" class="button">The plan</RouterLink>
        <button v-if="page.run === 'running'" type="button" class="button" @click="ending = true">End the run</button>
      </div>
    </header>

    <div v-if="page.run === 'done'" class="mx-auto flex w-full max-w-3xl flex-col gap-4 p-6" data-testid="outcome">
      <h2 class="text-3xl">
        {{ page.outcome?.good }} good baits of {{ page.asked }} asked<template v-if="!page.short">: all there</template>
      </h2>
      <p v-for="s in page.outcome?.spoiled ?? []" :key="s.why" class="text-xl">{{ s.count }} spoiled: {{ s.why }}</p>
      <p v-if="page.outcome?.note" class="whitespace-pre-line">{{ page.outcome.note }}</p>
      <p v-for="(ml, i) in page.outcome?.leftML ?? []" v-show="ml > 0" :key="i" class="figure">
        {{ ml.toFixed(0) }} ml are left in cup {{ page.cooks[i]?.letter }}, {{ page.cooks[i]?.name }}.
      </p>
      <div class="flex flex-wrap gap-3">
        <button v-if="page.short" type="button" class="button button-main" @click="planRest">
          Plan the {{ page.short }} that are lacking, from what is left
        </button>
        <RouterLink to="/leftovers" class="button">What is left</RouterLink>
        <RouterLink to="/log" class="button">The logbook</RouterLink>
        <RouterLink to="/batches" class="button">Its batches</RouterLink>
        <RouterLink to="/pours" class="button">To the pours</RouterLink>
      </div>
      <ProblemNote :says="restSays" />
    </div>

    <div v-else class="grid flex-1 gap-0 lg:grid-cols-[minmax(0,1fr)_22rem]">
      <div class="flex min-w-0 flex-col gap-4 p-4 lg:p-6">
        <p
          v-for="(s, i) in page.state?.says ?? []"
          :key="i"
          class="rounded-lg bg-fog px-4 py-3 text-lg font-semibold"
          role="status"
        >
          {{ s }}
        </p>
        <ProblemNote :says="run.problem.value?.message" />
        <div v-if="step" class="flex flex-col gap-3" data-testid="step" :data-step="step.key">
          <div class="flex flex-wrap items-start gap-4">
            <template v-for="k in step.cooks" :key="k">
              <PouringPatch
                v-if="pouring"
                :hex="page.cups[k]?.look.hex ?? '#8e8e8e'"
                :name="page.cooks[k]?.name ?? ''"
                :share="poured"
                class="h-14 w-14"
              />
              <ColourPatch
                v-else
                :hex="page.cups[k]?.look.hex ?? '#8e8e8e'"
                :name="page.cooks[k]?.name ?? ''"
                class="h-14 w-14"
              />
            </template>
            <h2 class="min-w-56 flex-1 text-3xl! leading-tight lg:text-4xl!">{{ step.title }}</h2>
            <p class="figure text-right" role="timer">
              <template v-if="step.state === 'begun'">
                <span class="block text-6xl leading-none font-semibold" :class="left < 0 && 'text-slate'">{{
                  left >= 0 ? clock(left) : `+${clock(-left)}`
                }}</span>
                <span class="text-slate">{{ left >= 0 ? 'to go' : 'over' }}</span>
              </template>
              <span v-else class="text-2xl text-slate">{{ dueIn(step) }}</span>
            </p>
          </div>
          <p v-if="burst && burst < 1" class="text-2xl">It is hot enough as it is: no burst.</p>
          <p v-else-if="burst" class="figure text-3xl">
            <span class="font-semibold">{{ clock(burst) }}</span> in the microwave, to
            <span class="font-semibold">{{ degrees(step.toC ?? 0) }}</span>
          </p>
          <p v-for="(t, i) in says" :key="i" class="text-2xl leading-snug">{{ t }}</p>
          <RunLines
            v-if="lines.length && cup"
            :cup="cup"
            :lines="lines"
            :pending="(m) => run.pending(cup!.uid, m)"
            @drip="(m, n) => run.drip(cup!.uid, m, n)"
            @all="(l) => run.add(cup!.uid, l.material, l.wants)"
          />
          <p v-if="step.caution" class="border-l-4 border-ink pl-3 text-lg font-semibold" data-testid="caution">
            {{ step.caution }}
          </p>
          <div v-if="step.cooks.length === 1" class="flex flex-wrap items-center gap-3">
            <label class="flex items-center gap-3 text-lg"
              >It shows<input
                v-model="typed"
                class="field figure w-32! text-xl"
                type="text"
                placeholder="335F"
                aria-label="What the thermometer shows"
                @keydown.enter.prevent="read"
            /></label>
            <button type="button" class="button h-12" :disabled="!typed.trim()" @click="read">Take this reading</button>
            <button v-if="page.thermometer" type="button" class="button h-12" @click="thermometer">
              Ask the thermometer
            </button>
            <p v-if="about" class="basis-full text-slate">{{ about }}</p>
          </div>
          <div class="flex flex-wrap gap-3 pt-1">
            <button v-if="step.state === 'ready'" type="button" class="button h-16 px-8 text-xl" @click="begin(step)">
              Begin
            </button>
            <button type="button" class="button button-main h-16 px-10 text-xl" :disabled="held" @click="finish(step)">
              Done
            </button>
          </div>
          <div v-if="asked === step.key" class="flex flex-wrap items-center gap-3 rounded-lg bg-fog p-3" role="alert">
            <p class="basis-full text-lg font-semibold">
              Only some of it was counted in:
              {{ partly.map((l) => `${l.in} of ${l.whole} drops of ${l.name}`).join(', ') }}.
            </p>
            <button type="button" class="button h-14 bg-white! px-6" @click="rest(step)">All of it is in</button>
            <button type="button" class="button h-14 bg-white! px-6" @click="done(step)">Leave it as counted</button>
          </div>
        </div>
        <div v-else-if="page.state?.over" class="flex flex-col gap-3">
          <h2 class="text-3xl!">All of it is poured.</h2>
          <p class="text-xl">Count what is good, and say what is left in which cup.</p>
          <button type="button" class="button button-main h-16 self-start px-8 text-xl" @click="ending = true">
            What came of it
          </button>
        </div>
        <p v-else class="text-xl">Nothing can be done just now; what follows is timed beside this.</p>

        <div class="mt-auto flex flex-wrap items-center gap-3 border-t border-haze pt-3">
          <button v-if="page.lastSays" type="button" class="button" :disabled="run.waiting.value > 0" @click="run.back">
            Take back: {{ page.lastSays.slice(0, 48) }}
          </button>
          <button type="button" class="button" @click="noting = !noting">I did something else</button>
          <ToggleChip :on="timeline" @click="timeline = !timeline">Timeline</ToggleChip>
        </div>
        <form v-if="noting" class="flex flex-wrap gap-3" @submit.prevent="writeNote">
          <input
            v-model="note"
            class="field flex-1 basis-64 text-lg"
            type="text"
            aria-label="What you did otherwise"
            placeholder="Two drops of black more; it looked pale"
          />
          <button type="submit" class="button button-main">Write it down</button>
        </form>
        <ul v-if="page.state?.notes.length" class="flex flex-col gap-1">
          <li v-for="(n, i) in page.state.notes" :key="i" class="says bg-fog!">
            <span class="figure text-slate">{{ clock((n.atMS - page.startedMS) / 1000) }}</span> {{ n.note }}
          </li>
        </ul>
        <TimelineChart
          v-if="timeline && page.state?.timeline"
          :timeline="page.state.timeline"
          :cooks="page.cooks"
          :swatches="looks"
          :tick-s="page.tickS"
          :now="(ms - page.startedMS) / 1000 / page.tickS"
          still
        />
      </div>

      <aside class="flex flex-col gap-4 bg-mist p-4 text-lg">
        <div v-if="others.length">
          <h2>Also now</h2>
          <button
            v-for="s in others"
            :key="s.key"
            type="button"
            class="mt-2 block min-h-14 w-full rounded-lg bg-white px-3 py-2 text-left"
            @click="picked = s.key"
          >
            <span class="block leading-tight font-medium">{{ s.title }}</span>
            <span class="figure text-slate">{{ whenOf(s) }}</span>
          </button>
        </div>
        <div>
          <h2>The cups</h2>
          <p v-for="c in cupsNow" :key="c.letter" class="flex items-baseline gap-2 border-t border-haze py-1.5">
            <span class="w-6 font-bold">{{ c.letter }}</span>
            <span class="min-w-0 flex-1 truncate">{{ c.name }}</span>
            <span v-if="c.there" class="figure text-right"
              ><span class="font-semibold">about {{ Math.round(c.c * 1.8 + 32) }} °F</span>
              <span class="block text-base text-slate">{{ c.word }}, {{ c.has }}</span></span
            >
            <span v-else class="text-base text-slate">not measured yet</span>
          </p>
        </div>
        <div v-if="ahead.length">
          <h2>Then</h2>
          <p v-for="s in ahead" :key="s.key" class="flex gap-3 border-t border-haze py-1.5 leading-tight">
            <span class="min-w-0 flex-1">{{ s.title }}</span>
            <span class="figure shrink-0 text-slate">{{ dueIn(s) }}</span>
          </p>
        </div>
      </aside>
    </div>
    <RunEnd v-if="ending" :page="page" @close="ending = false" @ended="ended" />
  </section>
  <section v-else-if="run.missing.value" class="p-8">
    <ProblemNote :says="run.missing.value" />
    <p class="pt-3"><RouterLink :to="`/pours/${uid}`" class="link">To the plan</RouterLink></p>
  </section>
</template>
