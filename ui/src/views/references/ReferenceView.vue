<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, shallowRef } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'

import { api, ask, problemOf, type Problem, type PinCard, type ReferenceCard, type Sample } from '@/api/client'
import ColourPatch from '@/parts/ColourPatch.vue'
import KeepMenu from '@/parts/KeepMenu.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import { useReferenceChange } from '@/use/reference'
import { useShop } from '@/use/shop'

import BagPanel from './BagPanel.vue'
import FlakePanel from './FlakePanel.vue'
import JoinPanel from './JoinPanel.vue'
import LightPanel from './LightPanel.vue'
import PinForm from './PinForm.vue'
import { mostStrokes, type Spot, strokeStep } from './spot'
import TintPanel from './TintPanel.vue'
import ToldPanel from './ToldPanel.vue'

// A photo with pins: point at a spot, see its colour, keep it under a name, take it as the target of a cup.
const route = useRoute()
const router = useRouter()
const client = useQueryClient()
const { data: shop } = useShop()
const uid = computed(() => route.params.reference as string)
const queryKey = ['references', uid]
const { data: reference, error } = useQuery({
  queryKey,
  queryFn: () => ask(api.GET('/references/{reference}', { params: { path: { reference: uid.value } } })),
})

const light = ref<InstanceType<typeof LightPanel>>()
const flake = ref<InstanceType<typeof FlakePanel>>()
const after = ref(0) // counts the lights, so that the picture is fetched anew
const disc = ref<Spot>()
const painting = ref(false)
const form = ref<InstanceType<typeof PinForm>>()
const sample = shallowRef<Sample>()
const problem = ref<Problem>()

// Those on the photo that is shown, not on one that was joined to it.
const own = computed(() => (reference.value?.pins ?? []).filter((p) => !p.of))
const path = computed(() => ({ path: { reference: uid.value } }))
const percent = (v: number, of: number) => `${(100 * v) / of}%`
// A pin that has another right below it bears its name above.
function crowded(p: ReferenceCard['pins'][number]) {
  const { widthPX, heightPX } = reference.value!.photo!
  return own.value.some((q) => {
    const down = (q.disc.y - p.disc.y) / heightPX
    return q !== p && Math.abs(q.disc.x - p.disc.x) < 0.15 * widthPX && down > 0 && down < 0.12
  })
}
function place(d: { x: number; y: number; radius: number }) {
  const { widthPX, heightPX } = reference.value!.photo!
  return {
    left: percent(d.x, widthPX),
    top: percent(d.y, heightPX),
    width: percent(2 * d.radius, widthPX),
    height: percent(2 * d.radius, heightPX),
  }
}

let reading = false
async function read() {
  if (reading) return // the newest place is read when this one is done
  reading = true
  let done: string | undefined
  while (disc.value && done !== JSON.stringify(disc.value)) {
    done = JSON.stringify(disc.value)
    try {
      const got = await ask(api.POST('/references/{reference}/sample', { params: path.value, body: disc.value }))
      sample.value = disc.value && got // the pin may have been kept or left meanwhile
      problem.value = undefined
    } catch (e) {
      problem.value = problemOf(e)
    }
  }
  reading = false
}
function point(e: PointerEvent) {
  const box = (e.currentTarget as HTMLElement).getBoundingClientRect()
  const { widthPX, heightPX } = reference.value!.photo!
  const at = (v: number, from: number, length: number, px: number) =>
    Math.round(Math.min(px - 1, Math.max(0, ((v - from) / length) * px)))
  const x = at(e.clientX, box.left, box.width, widthPX)
  const y = at(e.clientY, box.top, box.height, heightPX)
  if (e.type === 'pointerdown' && (light.value?.take(x, y) || form.value?.take(x, y) || flake.value?.take(x, y))) return
  if (painting.value && disc.value) {
    const { stroke = [], radius } = disc.value
    const far = [[disc.value.x, disc.value.y], ...stroke].every(
      ([u, v]) => Math.hypot(u! - x, v! - y) > strokeStep * radius,
    )
    if (far && stroke.length < mostStrokes) disc.value = { ...disc.value, stroke: [...stroke, [x, y]] }
    void read()
    return
  }
  disc.value = {
    x,
    y,
    radius: disc.value?.radius ?? Math.max(4, Math.round(widthPX / 60)),
  }
  void read()
}
function drag(e: PointerEvent) {
  if (e.buttons && disc.value) point(e)
}
function grow(by: number) {
  if (!disc.value) return
  disc.value = { ...disc.value, radius: Math.min(400, Math.max(2, Math.round(disc.value.radius * by))) }
  void read()
}
function keys(e: KeyboardEvent) {
  if (!disc.value) return
  const step = e.shiftKey ? 10 : 1
  const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key]
  if (!by) return
  e.preventDefault()
  const { widthPX, heightPX } = reference.value!.photo!
  const moved = ([x, y]: [number, number]): [number, number] => [
    Math.min(widthPX - 1, Math.max(0, x + by[0]! * step)),
    Math.min(heightPX - 1, Math.max(0, y + by[1]! * step)),
  ]
  const [x, y] = moved([disc.value.x, disc.value.y])
  disc.value = { ...disc.value, x, y, stroke: disc.value.stroke?.map(moved) }
  void read()
}

async function attempt(work: () => Promise<void>) {
  problem.value = undefined
  try {
    await work()
  } catch (e) {
    problem.value = problemOf(e)
  }
}
function kept(now: ReferenceCard) {
  client.setQueryData(['references', uid.value], now)
  disc.value = sample.value = undefined
  painting.value = false
}
function relit(now: ReferenceCard) {
  client.setQueryData(['references', uid.value], now)
  after.value++
  if (disc.value) void read()
}
const remove = (pin: PinCard) =>
  attempt(async () => {
    const params = { path: { reference: uid.value, pin: pin.uid } }
    client.setQueryData(
      ['references', uid.value],
      await ask(api.DELETE('/references/{reference}/pins/{pin}', { params })),
    )
  })
const change = useReferenceChange(
  () => reference.value!,
  (r) => client.setQueryData(['references', uid.value], r),
)
const setMine = (pin: PinCard) =>
  attempt(async () => {
    const params = { path: { reference: uid.value, pin: pin.uid } }
    await change((seen) =>
      api.POST('/references/{reference}/pins/{pin}/mine', { params, body: { seen, mine: !pin.mine } }),
    )
  })
const aim = (pin: PinCard) =>
  attempt(async () => {
    let { cup } = await ask(api.GET('/cups/latest'))
    cup ||= (await ask(api.POST('/cups', { params: { query: {} }, body: {} }))).uid
    const params = { path: { cup }, query: {} }
    const { head } = await ask(api.GET('/cups/{cup}', { params }))
    const body = { seen: head, steps: [{ kind: 'target' as const, target: pin.target }] }
    await ask(api.POST('/cups/{cup}/steps', { params, body }))
    await router.push(`/bench/${cup}`)
  })
const sources = { typed: 'measured', spectrum: 'from its spectrum', words: 'from words', cup: 'as a cup is predicted' }
const lab = (c: { L: number; a: number; b: number }) => `L ${c.L.toFixed(1)}  a ${c.a.toFixed(1)}  b ${c.b.toFixed(1)}`
</script>

<template>
  <section v-if="reference && shop" class="grid flex-1 grid-cols-1 lg:grid-cols-[1fr_24rem]">
    <div class="surround">
      <div class="p-4 lg:sticky lg:top-0 lg:max-h-dvh lg:overflow-auto">
        <div class="flex flex-wrap items-center justify-between gap-3 pb-3">
          <h1 class="mr-auto">{{ reference.name }}</h1>
          <KeepMenu
            what="reference"
            :uid="reference.uid"
            :name="reference.name"
            :kept="reference.kept"
            right
            @gone="router.push('/references')"
          />
          <template v-if="reference.pins.length">
            <RouterLink :to="`/projects?reference=${reference.uid}`" class="button">Open a project on it</RouterLink>
            <RouterLink :to="`/match?reference=${reference.uid}`" class="button">Match it from the shelf</RouterLink>
          </template>
        </div>
        <div v-if="!reference.photo" class="grid gap-4 sm:grid-cols-2" data-testid="parts">
          <p v-if="!reference.pins.length">Nothing is known of it yet. Say what you know, on the right.</p>
          <figure v-for="p in reference.pins" :key="p.uid">
            <ColourPatch :hex="p.swatch.hex" :name="p.name" class="h-40" :data-hex="p.swatch.hex" />
            <figcaption class="pt-1">{{ p.name }}, {{ p.thicknessMM }} mm</figcaption>
          </figure>
        </div>
        <div
          v-else
          class="relative touch-none select-none"
          role="application"
          tabindex="0"
          aria-label="The photo. Point at a spot to read its colour; arrow keys move the pin."
          data-testid="photo"
          @pointerdown.prevent="point"
          @pointermove="drag"
          @keydown="keys"
        >
          <img
            :src="`/api/v1/photos/${reference.photo.uid}`"
            :alt="reference.name"
            class="block w-full"
            draggable="false"
          />
          <div
            v-for="p in own"
            :key="p.uid"
            class="pointer-events-none absolute -translate-x-1/2 -translate-y-1/2 rounded-full border-2 border-white outline-1 outline-black"
            :style="place(p.disc)"
          >
            <span
              class="absolute left-1/2 -translate-x-1/2 bg-black/70 px-1.5 whitespace-nowrap text-white"
              :class="crowded(p) ? 'bottom-full mb-1' : 'top-full mt-1'"
              >{{ p.name }}</span
            >
          </div>
          <svg
            v-if="reference.flake"
            class="pointer-events-none absolute inset-0 h-full w-full"
            :viewBox="`0 0 ${reference.photo.widthPX} ${reference.photo.heightPX}`"
            data-testid="pieces"
          >
            <g v-for="(p, i) in reference.flake.pieces" :key="i" fill="none">
              <circle :cx="p.x" :cy="p.y" :r="(p.sizeMM * reference.pxPerMM) / 2 + 2" stroke="#fff" stroke-width="3" />
              <circle
                :cx="p.x"
                :cy="p.y"
                :r="(p.sizeMM * reference.pxPerMM) / 2 + 2"
                stroke="#191919"
                stroke-width="1.2"
                :stroke-dasharray="p.class % 2 ? '4 3' : undefined"
              />
            </g>
          </svg>
          <svg
            v-if="disc?.stroke?.length"
            class="pointer-events-none absolute inset-0 h-full w-full mix-blend-difference"
            :viewBox="`0 0 ${reference.photo.widthPX} ${reference.photo.heightPX}`"
            data-testid="painted"
          >
            <g fill="#fff" fill-opacity="0.25">
              <circle
                v-for="(p, i) in [[disc.x, disc.y], ...disc.stroke]"
                :key="i"
                :cx="p[0]"
                :cy="p[1]"
                :r="disc.radius"
              />
            </g>
          </svg>
          <div
            v-if="disc"
            class="pointer-events-none absolute -translate-x-1/2 -translate-y-1/2 rounded-full border-2 border-dashed border-white outline-2 outline-black"
            :style="place(disc)"
          />
        </div>
        <JoinPanel :reference="reference" @set="relit" />
        <figure v-if="reference.photo && reference.light" class="pt-4">
          <img
            :src="`/api/v1/references/${uid}/after?${after}-${reference.light.kind}-${reference.light.tone}`"
            :alt="`${reference.name}, its light undone`"
            class="block w-full"
            data-testid="after"
          />
          <figcaption class="pt-1">The same with its light undone</figcaption>
        </figure>
      </div>
    </div>
    <div class="flex flex-col gap-4 border-l border-haze bg-mist p-4">
      <LightPanel v-if="reference.photo" ref="light" :reference="reference" :shop="shop" @lit="relit" />
      <div v-if="reference.photo && !disc">
        <h2>Point at a spot</h2>
        <p class="text-slate">Choose an even place without glare. Glare inside the circle is left out.</p>
      </div>
      <PinForm
        v-else-if="disc"
        ref="form"
        :reference="reference"
        :shop="shop"
        :disc="disc"
        :sample="sample"
        :painting="painting"
        :fault="problem?.message"
        @kept="kept"
        @leave="disc = undefined"
        @grow="grow"
        @paint="painting = !painting"
        @anew="disc = { ...disc!, stroke: [] }"
      />
      <ToldPanel v-if="!disc" :reference="reference" :shop="shop" @set="relit" />
      <ProblemNote v-if="!disc" :says="problem?.message" />
      <ul class="flex flex-col gap-3" aria-label="Pins">
        <li
          v-for="p in reference.pins"
          :key="p.uid"
          class="flex items-stretch bg-white"
          :data-pin="p.name"
          :data-sample="p.sample"
        >
          <ColourPatch :hex="p.swatch.hex" :name="p.name" class="w-16 shrink-0" :data-hex="p.swatch.hex" />
          <div class="flex-1 px-3 py-2">
            <p class="font-semibold">
              {{ p.name }}{{ p.sample ? `, bait ${p.sample}` : '' }}{{ p.aside ? ', set aside' : ''
              }}{{ p.mine ? ', mine on purpose' : '' }}
            </p>
            <p class="figure whitespace-pre-wrap">{{ lab(p.reading.lab) }}</p>
            <p class="text-slate">
              {{ p.thicknessMM }} mm, {{ p.ground === 'against' ? 'against the light' : `over ${p.ground}` }},
              {{ p.state }}, {{ p.reading.from ? `${sources[p.reading.from]}, ` : ''
              }}{{
                p.reading.error
                  ? `give or take ΔE00 ${p.reading.error.toFixed(1)}`
                  : p.reading.from
                    ? 'exact'
                    : 'its light not undone'
              }}
            </p>
            <p v-if="p.of">
              <RouterLink :to="`/references/${p.of}`" class="link">On its other photo</RouterLink>
            </p>
            <div class="flex flex-wrap gap-x-4">
              <button type="button" class="link min-h-11" @click="aim(p)">Make it the target</button>
              <button v-if="!p.of" type="button" class="link min-h-11" :aria-pressed="p.mine" @click="setMine(p)">
                {{ p.mine ? 'Score it again' : 'Mine on purpose' }}
              </button>
              <button v-if="!p.of" type="button" class="link min-h-11" @click="remove(p)">Remove</button>
            </div>
          </div>
        </li>
      </ul>
      <FlakePanel v-if="reference.photo" ref="flake" :reference="reference" @set="relit" />
      <BagPanel :reference="reference" @set="relit" />
      <TintPanel :reference="reference" />
    </div>
  </section>
  <section v-else-if="error" class="p-8"><ProblemNote :says="error.message" /></section>
</template>
