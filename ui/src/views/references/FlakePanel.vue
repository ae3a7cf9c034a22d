<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'

import { api, ask, saysOf, type ReferenceCard } from '@/api/client'
import ColourPatch from '@/parts/ColourPatch.vue'
import ListPicker from '@/parts/ListPicker.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import { useRecipeChoices } from '@/use/lists'
import { useReferenceChange } from '@/use/reference'
import { useShelf } from '@/use/shop'

import FlakeReading from './FlakeReading.vue'

type Piece = { x: number; y: number; sizeMM: number; class: number }

// How long a millimetre is in the photo, and the flake in a region of it: found, counted, corrected by hand, and turned into
// spoons.
const props = defineProps<{ reference: ReferenceCard }>()
const emit = defineEmits<{ set: [reference: ReferenceCard] }>()
const doing = ref<'scale' | 'count' | 'correct'>()
const length = ref('50 mm')
const places = ref<[number, number][]>([])
const kind = ref(0)
const base = ref('')
const thickness = ref('8')
const says = ref('')
const stop = ref<AbortController>()
const found = computed(() => props.reference.flake)
const words = {
  scale: ['Point at one end of something whose length is known.', 'Point at its other end.'],
  count: ['Point at one corner of an even region with flake in it.', 'Point at the corner across.'],
}
const inches = (v: number) => v.toFixed(3).replace(/^0/, '')
const asks = computed(() => {
  if (doing.value === 'correct')
    return `Point at a mark that is no piece, or at a piece that was missed: it counts as ${inches(found.value?.classes[kind.value]?.sizeIN ?? 0)} in.`
  return doing.value ? words[doing.value][places.value.length] : undefined
})

function begin(what: 'scale' | 'count' | 'correct') {
  doing.value = doing.value === what ? undefined : what
  places.value = []
  says.value = ''
}
/** A place of the photo that was pointed at; true if it was asked for. */
function take(x: number, y: number): boolean {
  if (!asks.value) return false
  if (doing.value === 'correct') {
    const piece = { x, y, class: kind.value }
    void attempt((seen) =>
      api.POST('/references/{reference}/flake/pieces', { params: { path: path() }, body: { seen, ...piece } }),
    )
    return true
  }
  places.value.push([x, y])
  if (!asks.value) void send()
  return true
}
defineExpose({ take })

const path = () => ({ reference: props.reference.uid })
const change = useReferenceChange(
  () => props.reference,
  (r) => emit('set', r),
)
async function attempt(work: Parameters<typeof change>[0]) {
  says.value = ''
  try {
    await change(work)
    return true
  } catch (e) {
    if ((e as Error).name !== 'AbortError') says.value = saysOf(e)
    return false
  }
}
async function send() {
  const [a, b] = places.value as [[number, number], [number, number]]
  stop.value = new AbortController()
  const { signal } = stop.value
  const params = { path: path() }
  const done = await attempt((seen) =>
    doing.value === 'scale'
      ? api.POST('/references/{reference}/scale', { params, body: { seen, a, b, length: length.value }, signal })
      : api.POST('/references/{reference}/flake', {
          params,
          body: { seen, x0: a[0], y0: a[1], x1: b[0], y1: b[1] },
          signal,
        }),
  )
  if (done) doing.value = undefined
  stop.value = undefined
  places.value = []
}
const clear = () =>
  attempt((seen) => api.DELETE('/references/{reference}/flake', { params: { path: path(), query: { seen } } }))

const kinds = (n: number) => (n === 1 ? 'One kind' : `${n} kinds`)
const readings = computed(() => {
  const f = found.value
  if (!f?.other) return []
  const same = f.classes.length === f.other.classes.length
  return [
    { name: same ? 'As counted' : kinds(f.classes.length), other: false, ...pick(f) },
    { name: same ? 'The other way' : kinds(f.other.classes.length), other: true, ...pick(f.other) },
  ]
})
const pick = (f: { classes: { hex: string; sizeIN: number; perCM2: number }[]; pieces: Piece[] }) => ({
  classes: f.classes,
  pieces: f.pieces,
})
const decide = (other: boolean) =>
  attempt((seen) =>
    api.POST('/references/{reference}/flake/reading', { params: { path: path() }, body: { seen, other } }),
  )

const { items: recipes } = useRecipeChoices(() => !!found.value)
const bases = computed(() => [
  { key: '', name: 'clear plastisol' },
  ...(recipes.value ?? []).map((r) => ({ key: r.uid, name: r.name })),
])
const chosen = ref<string[]>([]) // which flake each kind is, where somebody said so
watch(
  () => found.value?.areaCM2,
  () => (chosen.value = []),
)
const mm = computed(() => Number(thickness.value.replace(',', '.')) || 0)
const { data: spoons, error: spoonsError } = useQuery({
  queryKey: ['spoons', computed(() => props.reference), base, mm, chosen],
  queryFn: () =>
    ask(
      api.GET('/references/{reference}/spoons', {
        params: {
          path: path(),
          query: {
            recipe: base.value,
            thickness: mm.value,
            flakes: found.value!.classes.map((_, i) => chosen.value[i] ?? ''),
          },
        },
      }),
    ),
  enabled: computed(() => !!found.value?.classes.length),
  retry: false,
})
const shelf = useShelf()
const flakes = computed(() => shelf.bottles.value.filter((b) => b.flake).map((b) => ({ key: b.uid, name: b.name })))
const tsp = (v: number) => (v < 0.095 ? v.toFixed(3) : v.toFixed(2))
</script>

<template>
  <section class="flex flex-col gap-3 border-t border-haze pt-4" data-testid="flake">
    <h2>Scale and flake</h2>
    <p>
      <template v-if="reference.pxPerMM"
        >A millimetre is <span class="figure">{{ reference.pxPerMM.toFixed(1) }} px</span> here.</template
      >
      <template v-else>Nobody said yet how long a millimetre is in this photo.</template>
    </p>
    <div class="flex flex-wrap items-center gap-2">
      <button
        type="button"
        class="button px-3"
        :class="doing === 'scale' && 'bg-ink! text-white!'"
        @click="begin('scale')"
      >
        Set the scale
      </button>
      <button
        type="button"
        class="button px-3"
        :class="doing === 'count' && 'bg-ink! text-white!'"
        :disabled="!reference.pxPerMM"
        @click="begin('count')"
      >
        Count the flake
      </button>
      <template v-if="found">
        <button
          v-if="found.classes.length"
          type="button"
          class="button px-3"
          :class="doing === 'correct' && 'bg-ink! text-white!'"
          @click="begin('correct')"
        >
          Correct it by hand
        </button>
        <button type="button" class="button px-3" @click="clear">Take the count away</button>
      </template>
    </div>
    <label v-if="doing === 'scale'" class="flex items-center gap-2">
      <span class="flex-1">How long it is</span>
      <input v-model="length" class="field figure w-32!" data-testid="scale-length" />
    </label>
    <div v-if="stop && doing === 'count'" class="flex items-center gap-3" role="status">
      <span class="h-3 flex-1 animate-pulse bg-slate/40" />
      Counting…
      <button type="button" class="button" @click="stop.abort()">Stop</button>
    </div>
    <p v-else-if="doing" class="says">{{ asks }}</p>
    <ProblemNote :says="says" />
    <template v-if="found">
      <div v-if="found.other && !found.decided" class="says flex flex-col gap-2" data-testid="unsure">
        <p><span class="font-semibold">Not sure.</span> {{ found.unsure }}</p>
        <div class="grid grid-cols-2 gap-2">
          <button
            v-for="r in readings"
            :key="r.name"
            type="button"
            class="flex flex-col rounded-lg bg-white p-1 text-left"
            @click="decide(r.other)"
          >
            <FlakeReading :reference="reference" :pieces="r.pieces" />
            <span class="font-semibold">{{ r.name }}</span>
            <span v-for="c in r.classes" :key="c.hex + c.sizeIN" class="flex items-center gap-1 text-sm">
              <ColourPatch :hex="c.hex" name="" class="h-4 w-4 shrink-0" />
              <span class="figure">{{ inches(c.sizeIN) }}</span> in,
              <span class="figure">{{ c.perCM2.toFixed(0) }}</span> a cm²
            </span>
          </button>
        </div>
        <p class="text-slate">Tap the one that is right.</p>
      </div>
      <p v-else-if="found.other" class="text-slate">
        You chose between two readings.
        <button type="button" class="link min-h-11" @click="decide(true)">Take the other</button>
      </p>
      <p v-if="!found.classes.length">No flake stands out from the base here.</p>
      <label v-for="(c, i) in found.classes" :key="i" class="flex items-center gap-3" data-flake-class>
        <input v-if="doing === 'correct'" v-model="kind" type="radio" :value="i" class="h-5 w-5" />
        <ColourPatch :hex="c.hex" :name="`Flake ${i + 1}`" class="h-11 w-11 shrink-0" />
        <span>
          <span class="figure">{{ inches(c.sizeIN) }} in</span>, <span class="figure">{{ c.count }}</span> pieces,
          <span class="figure">{{ c.perCM2.toFixed(0) }}</span> a cm²<span v-if="c.alike" class="block text-slate">{{
            c.alike
          }}</span>
        </span>
      </label>
      <ProblemNote :says="found.warning" />
      <template v-if="found.classes.length">
        <h3 class="font-semibold">How many spoons that is</h3>
        <div class="grid grid-cols-[1fr_7rem] gap-2">
          <div>
            <span>In the base of</span>
            <ListPicker v-model="base" label="Base" :options="bases" />
          </div>
          <label>
            Thick, mm
            <input v-model="thickness" class="field figure" inputmode="decimal" data-testid="spoons-mm" />
          </label>
        </div>
        <ProblemNote :says="spoonsError?.message" />
        <template v-if="!spoonsError">
          <div v-for="(s, i) in spoons ?? []" :key="i" class="flex flex-col gap-1" data-spoons>
            <span>The {{ inches(found.classes[i]?.sizeIN ?? 0) }} in flake is</span>
            <ListPicker
              v-if="s.flake"
              :model-value="s.flake"
              :label="`Which flake ${i + 1} is`"
              :options="flakes"
              @update:model-value="
                (v: string) => (chosen = found!.classes.map((_, k) => (k === i ? v : (chosen[k] ?? ''))))
              "
            />
            <p v-if="s.hidden || !s.flake">{{ inches(found.classes[i]?.sizeIN ?? 0) }} in: {{ s.says }}.</p>
            <p v-else>
              <span class="figure">{{ tsp(s.perCup.value) }} tsp</span> a cup, with the spoons here
              <span class="figure">{{ s.take }}</span>; {{ s.says }}.
            </p>
          </div>
        </template>
      </template>
    </template>
  </section>
</template>
