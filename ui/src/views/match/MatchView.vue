<script setup lang="ts">
import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, onScopeDispose, ref, shallowRef, watch } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'

import {
  api,
  ask as answerOf,
  lines,
  saysOf,
  type Candidate,
  type Cup,
  type Dose,
  type LayersResult,
  type MatchAnswer,
  type MatchLine,
} from '@/api/client'
import EmptyPlace from '@/parts/EmptyPlace.vue'
import PhotoCrop from '@/parts/PhotoCrop.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import ReferenceTile from '@/parts/ReferenceTile.vue'
import { useReferences } from '@/use/lists'
import { useShelf } from '@/use/shop'

import { useAsk } from './ask'
import AskPanel from './AskPanel.vue'
import CandidateCard from './CandidateCard.vue'

// What do I drip to get there, from what I own? What is out of reach, and why?
const route = useRoute()
const router = useRouter()
const shelf = useShelf()
const client = useQueryClient()
const { items: references } = useReferences()
const uid = computed(() => (route.query.reference as string) || '')
const { data: reference } = useQuery({
  queryKey: ['references', uid],
  queryFn: () => answerOf(api.GET('/references/{reference}', { params: { path: { reference: uid.value } } })),
  enabled: computed(() => !!uid.value),
})
const chosen = computed(() => (uid.value ? reference.value : undefined))
// A colour that was logged comes by its figures.
const told = computed(() => {
  const { lab, of, hex } = route.query
  const [L, A, B] = typeof lab === 'string' ? lab.split(',').map(Number) : []
  if (![L, A, B].every(Number.isFinite)) return undefined
  const shown = typeof hex === 'string' && /^#[0-9a-f]{6}$/.test(hex) ? hex : '#8e8e8e'
  return { name: String(of || 'A colour').slice(0, 60), lab: { L: L!, a: A!, b: B! }, hex: shown }
})
const { readings, form, held, parts, ask, layers } = useAsk(chosen, told)
const choose = (reference: string) => router.replace({ query: reference ? { reference } : {} })

const ready = computed(() => readings.value.length > 0 && !form.together)
const { data, error, isFetching } = useQuery({
  queryKey: ['match', ask],
  queryFn: ({ signal }) => answerOf(api.POST('/match', { body: ask.value, signal })),
  enabled: ready,
  retry: false,
  placeholderData: keepPreviousData,
})

// The long search: lines as it goes on, until it is done or stopped.
const done = ref(0)
const before = ref(0) // searches whose turn comes first
const long = shallowRef<AbortController>()
const found = shallowRef<MatchAnswer>()
const onTheWay = shallowRef<Candidate[]>()
const together = shallowRef<LayersResult>()
const says = ref('')
async function run(path: string, body: unknown) {
  long.value?.abort()
  const own = new AbortController()
  long.value = own
  done.value = 0
  says.value = ''
  try {
    await lines<MatchLine>(path, body, own.signal, (l) => {
      done.value = l.done
      before.value = l.before ?? 0
      if (l.best?.length) onTheWay.value = l.best
      if (l.answer) found.value = l.answer
      if (l.layers) together.value = l.layers
      if (l.error) says.value = l.error
    })
  } catch (e) {
    says.value = saysOf(e)
  }
  if (long.value === own) long.value = undefined
}
const stop = () => long.value?.abort()
onScopeDispose(stop)
watch([ask, layers, () => form.together], (now, was) => {
  if (JSON.stringify(now) === JSON.stringify(was)) return
  stop()
  found.value = onTheWay.value = together.value = undefined
  says.value = ''
})

const answer = computed(() => (ready.value ? (found.value ?? data.value) : undefined))
// Candidates changed by hand, by place in the answer.
const changed = ref<Record<number, Candidate>>({})
watch([answer, onTheWay], () => (changed.value = {}))
const shown = computed(() => {
  const list = onTheWay.value && !found.value ? onTheWay.value : (answer.value?.candidates ?? [])
  return list
    .map((c, place) => ({ place, candidate: changed.value[place] ?? c, changed: place in changed.value }))
    .sort((a, b) => (Object.keys(changed.value).length ? a.candidate.deltaE00 - b.candidate.deltaE00 : 0))
})

// A bait of each cup is drawn after the figures are there.
const pictures = ref<Record<string, string>>({})
const keyOf = (c: Cup) => JSON.stringify([c.volume.ml, c.plastisol, c.doses.map((d) => [d.material, d.amount.value])])
async function draw(cups: Cup[]) {
  for (const cup of cups) {
    const key = keyOf(cup)
    if (pictures.value[key] !== undefined) continue
    pictures.value[key] = ''
    try {
      const body = { ask: form.together ? { ...ask.value, readings: all.value } : ask.value, cup }
      const got = await answerOf(api.POST('/match/look', { params: { query: {} }, body }))
      pictures.value[key] = got.bait.png
    } catch {
      delete pictures.value[key] // it stays without a picture
    }
  }
}
const all = computed(() => ask.value.readings.map((r, i) => ({ ...r, weight: i ? 0 : 1 })))
watch(shown, (list) => void draw(list.map((s) => s.candidate.cup)), { immediate: true })
watch(together, (t) => void draw((t?.parts ?? []).map((p) => p.cup)))

async function step(place: number, material: string, steps: number) {
  const { cup } = shown.value.find((s) => s.place === place)!.candidate
  says.value = ''
  try {
    const body = { ask: ask.value, cup, material, steps }
    const { bait, ...candidate } = await answerOf(api.POST('/match/look', { params: { query: {} }, body }))
    pictures.value[keyOf(candidate.cup)] = bait.png
    changed.value = { ...changed.value, [place]: candidate }
  } catch (e) {
    says.value = saysOf(e)
  }
}
function hold(dose: Dose) {
  const rest = held.value.filter((d) => d.material !== dose.material)
  held.value = rest.length < held.value.length ? rest : [...rest, dose]
}

const target = (i: number) => {
  const r = readings.value[i]
  const pin = chosen.value?.pins.find((p) => p.uid === r?.uid)
  return pin?.target
}
type Poured = { cup: Cup; letter?: string; part?: string; name: string }
async function poured(cups: Poured[]) {
  const body = {
    cups: cups.map((c) => ({
      ...c,
      name: c.name.slice(0, 80),
      cup: { ...c.cup, doses: c.cup.doses.filter((d) => d.amount.value > 0) },
    })),
  }
  const made = await answerOf(api.POST('/match/bench', { body }))
  await client.invalidateQueries({ queryKey: ['cups'] })
  return made.cups
}
async function tell(work: () => Promise<unknown>) {
  says.value = ''
  try {
    await work()
  } catch (e) {
    says.value = saysOf(e)
  }
}
const toBench = (cups: Poured[]) => tell(async () => router.push(`/bench/${(await poured(cups))[0]}`))
const cupName = (part: string) => `${chosen.value?.name ?? 'Match'}: ${part}`
function oneToBench(c: Candidate) {
  const i = readings.value.findIndex((r) => r.on)
  return toBench([{ cup: { ...c.cup, target: target(i) }, name: cupName(readings.value[i]?.label ?? 'a cup') }])
}
const allParts = (): Poured[] =>
  together.value!.parts.map((p, i) => ({
    cup: { ...p.cup, target: target(readings.value.findIndex((r) => r.name === p.name)) },
    letter: 'ABCD'[i],
    part: p.name.slice(0, 40),
    name: cupName(p.name),
  }))
const allToBench = () => toBench(allParts())
const toBait = () =>
  tell(async () => {
    const parts = allParts()
    const cups = await poured(parts)
    const made = await answerOf(
      api.POST('/baits', {
        params: { query: {} },
        body: {
          name: (chosen.value?.name ?? '').slice(0, 80),
          cups: cups.map((cup, i) => ({ cup, part: parts[i]?.part })),
        },
      }),
    )
    await client.invalidateQueries({ queryKey: ['baits'] })
    await router.push(`/baits/${made.uid}`)
  })
const crop = computed(() => {
  const r = chosen.value
  const first = readings.value.find((x) => x.on) ?? readings.value[0]
  const pin = r?.pins.find((p) => p.uid === first?.uid && !p.reading.from)
  if (!r?.photo || !pin) return undefined
  return { photo: r.photo, x: r.photo.widthPX / 2, y: pin.disc.y, zoom: 240 / r.photo.widthPX }
})
</script>

<template>
  <section class="grid flex-1 grid-cols-1 lg:grid-cols-[1fr_24rem]">
    <div class="surround flex min-w-0 flex-col gap-3 p-4">
      <div class="flex flex-wrap items-center gap-x-4 gap-y-2">
        <h1>Match{{ chosen || told ? `: ${(chosen ?? told)!.name}` : '' }}</h1>
        <p v-if="answer && !form.together" class="text-sm" data-testid="tried">
          <span class="figure">{{ answer.tried }}</span> sets of bottles in
          <span class="figure">{{ answer.milliseconds.toFixed(0) }} ms</span
          ><template v-if="answer.likeliest"
            >; every three of the <span class="figure">{{ answer.likeliest }}</span> likeliest bottles</template
          >
        </p>
        <span class="ml-auto flex items-center gap-2">
          <template v-if="long">
            <span v-if="before" role="status">Waits its turn, {{ before }} before it</span>
            <progress :value="done" max="1" class="h-3 w-32" aria-label="How far the search has come" />
            <button type="button" class="button" @click="stop">Stop</button>
          </template>
          <button
            v-else-if="ready && answer"
            type="button"
            class="button"
            title="Every set of three bottles; takes a while"
            @click="run('/match/harder', ask)"
          >
            Search harder
          </button>
          <button
            v-else-if="form.together"
            type="button"
            class="button button-main"
            @click="run('/match/layers', layers)"
          >
            Match the parts together
          </button>
        </span>
      </div>
      <template v-if="!uid && !told">
        <p v-if="references && !references.length" class="max-w-xl text-lg">
          A reference is matched by what its pins read, from what is on your shelf.
          <RouterLink to="/references" class="text-inherit underline underline-offset-4">Pin the first</RouterLink>
          on a photo; words or an instrument’s reading do, too.
        </p>
        <p v-else class="max-w-xl text-lg">
          Choose a reference. It is matched by what its pins read, from what is on your shelf.
          <RouterLink to="/references" class="text-inherit underline underline-offset-4">Pin another first</RouterLink>
          if it is not here; words or an instrument’s reading do, too.
        </p>
        <ul v-if="references?.length" class="grid gap-4 sm:grid-cols-2 xl:grid-cols-3" data-testid="to-match">
          <li v-for="r in references" :key="r.uid">
            <ReferenceTile :reference="r" :to="{ query: { reference: r.uid } }" />
          </li>
        </ul>
        <EmptyPlace v-else-if="references" picture="target">
          Recipes for a colour are found here: as many drops of what you own as come nearest to it.
        </EmptyPlace>
      </template>
      <p v-else-if="chosen && !readings.length" class="says text-ink">
        {{ chosen.name }} has nothing to match yet: pin a spot on it, or say what you know of it.
        <RouterLink :to="`/references/${chosen.uid}`" class="link">To the reference</RouterLink>
      </p>
      <ProblemNote :says="says || (ready ? error?.message : undefined)" />
      <div v-if="answer?.limit && !error" class="says text-ink" data-testid="limit">
        <p class="font-semibold">What limits it</p>
        <p>{{ answer.limit.says }}</p>
        <p v-if="answer.limit.families.length > 1" class="text-slate">
          Or
          <template v-for="(f, i) in answer.limit.families.slice(1)" :key="f.key"
            >{{ i ? ', ' : '' }}{{ f.name }} (ΔE00 <span class="figure">{{ f.deltaE00.toFixed(1) }}</span>)</template
          >.
        </p>
      </div>
      <ul v-if="answer?.flake?.length && !error" class="says text-ink" data-testid="flake">
        <li v-for="k in answer.flake" :key="k.sizeIN + k.swatch.hex">
          Flake of <span class="figure">{{ k.sizeIN.toFixed(3) }} in</span>: {{ k.says
          }}<template v-if="k.choices.length > 1"
            >; else
            {{
              k.choices
                .slice(1)
                .map((c) => `${c.take} of ${c.name}`)
                .join(', or ')
            }}</template
          >
        </li>
      </ul>
      <template v-if="!error && ready">
        <div class="flex flex-col gap-2" :class="isFetching && 'opacity-60'" data-testid="candidates">
          <div v-for="s in shown" :key="s.place" class="flex gap-2">
            <CandidateCard
              class="min-w-0 flex-1"
              :candidate="s.candidate"
              :place="s.place + 1"
              :bait="pictures[keyOf(s.candidate.cup)] ?? ''"
              :changed="s.changed"
              :name-of="shelf.nameOf"
              :held="held.map((d) => d.material)"
              @step="(material, by) => step(s.place, material, by)"
              @hold="hold"
              @bench="oneToBench(s.candidate)"
            />
          </div>
        </div>
        <p v-if="shown.length" class="text-sm">
          Left half of a swatch: wanted. Right half: as it would be. ± is what bottles that nobody measured leave open.
        </p>
      </template>
      <template v-if="form.together">
        <p v-if="!together && !long" class="max-w-xl">
          Each part is a cup. Say on the right what lies behind a part where you look through it, then match.
        </p>
        <div v-if="together" class="flex flex-col gap-2" data-testid="layers">
          <p>
            The whole bait: ΔE00
            <span class="figure text-xl" data-testid="whole">{{ together.deltaE00.toFixed(1) }}</span>; each part by
            itself would come to <span class="figure">{{ together.alone.toFixed(1) }}</span> once poured together.
          </p>
          <CandidateCard
            v-for="(p, i) in together.parts"
            :key="p.name"
            :candidate="p"
            :place="i + 1"
            :title="p.name"
            :bait="pictures[keyOf(p.cup)] ?? ''"
            :changed="false"
            :name-of="shelf.nameOf"
            :held="[]"
            fixed
            ><p class="text-sm text-slate">
              alone <span class="figure">{{ p.alone.toFixed(1) }}</span>
            </p></CandidateCard
          >
          <ul v-if="together.ties.length" class="says text-ink" aria-label="What ties the layers">
            <li v-for="t in together.ties" :key="t.says">{{ t.says }}</li>
          </ul>
          <div class="flex flex-wrap gap-3">
            <button type="button" class="button button-main" @click="toBait">Make the bait of them</button>
            <button type="button" class="button" @click="allToBench">All cups to the bench</button>
          </div>
        </div>
      </template>
    </div>
    <div class="border-l border-haze bg-mist">
      <PhotoCrop v-if="crop" class="h-40 w-full" v-bind="crop" :zoom="384 / crop.photo.widthPX" name="The reference" />
      <AskPanel
        v-model:readings="readings"
        :references="references ?? []"
        :reference="chosen"
        :bottles="shelf.bottles.value"
        :name-of="shelf.nameOf"
        :form="form"
        :held="held"
        :parts="parts"
        :allowed="ready ? answer?.allowed : undefined"
        @reference="choose"
        @release="(m) => (held = held.filter((d) => d.material !== m))"
      />
    </div>
  </section>
</template>
