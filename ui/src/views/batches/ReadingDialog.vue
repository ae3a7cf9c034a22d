<script setup lang="ts">
import { computed, reactive, ref } from 'vue'
import { useRouter } from 'vue-router'

import { api, ask, saysOf, type BatchCard, type Move, type PartReading, type ReferenceCard } from '@/api/client'
import ListPicker from '@/parts/ListPicker.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import SheetDialog from '@/parts/SheetDialog.vue'
import ToggleChip from '@/parts/ToggleChip.vue'
import { useReferences } from '@/use/lists'
import { useShop } from '@/use/shop'

// One reading of a part of a batch: where, how it lay, and its colour.
const props = defineProps<{ batch: BatchCard }>()
const emit = defineEmits<{ close: []; kept: [] }>()
const { data: shop } = useShop()
const router = useRouter()
const last = props.batch.readings.at(-1)
const typed = reactive({ name: '', mm: String(last?.thicknessMM ?? 8), L: '', a: '', b: '' })
const ground = ref<PartReading['ground']>(last?.ground ?? 'white')
const state = ref<PartReading['state']>(last?.state ?? 'rested')
const how = ref<PartReading['how']>(last?.how ?? 'instrument')
type Choice<K extends string> = { key: K; name: string }
const grounds = computed(() => (shop.value?.grounds ?? []) as Choice<PartReading['ground']>[])
const states = computed(
  () => (shop.value?.states ?? []).filter((s) => s.key !== 'raw') as Choice<PartReading['state']>[],
)
const hows = computed(() => (shop.value?.hows ?? []).filter((h) => h.key !== 'words') as Choice<PartReading['how']>[])
// A photo of the batch that was opened as a target: its pins are readings already.
const { items: references } = useReferences()
const ofBatch = (r: ReferenceCard) => props.batch.photos.includes(r.photo?.uid ?? '')
const pinned = computed(() =>
  (references.value ?? [])
    .filter((r) => r.pins.length && r.photo)
    .sort((x, y) => Number(ofBatch(y)) - Number(ofBatch(x)))
    .flatMap((r) => r.pins.map((p) => ({ key: p.uid, name: `${r.name}: ${p.name}`, pin: p }))),
)
const pin = computed({
  get: () => '',
  set: (uid) => {
    const p = pinned.value.find((x) => x.key === uid)?.pin
    if (!p) return
    Object.assign(typed, {
      name: p.name,
      mm: String(p.thicknessMM),
      L: p.reading.lab.L.toFixed(1),
      a: p.reading.lab.a.toFixed(1),
      b: p.reading.lab.b.toFixed(1),
    })
    ground.value = p.ground
    if (p.state) state.value = p.state
    how.value = p.reading.from ? 'instrument' : 'photo'
  },
})
async function pinPhoto(photo: string) {
  const name = `Batch of ${props.batch.pouredOn}`
  try {
    const made = await ask(api.POST('/references', { body: { name, photo } }))
    await router.push(`/references/${made.uid}`)
  } catch (e) {
    says.value = saysOf(e)
  }
}
const axes = ['L', 'a', 'b'] as const
const says = ref<string>()
const busy = ref(false)
const number = (s: string) => (s.trim() === '' ? NaN : Number(s.replace(',', '.')))

// In words, beside what was sought: what is wrong with it, and by how much.
const moves = ref<Move[]>([])
const much = ref<Move['much']>('some')
const muches = [
  { key: 'slight' as const, name: 'a touch' },
  { key: 'some' as const, name: 'some' },
  { key: 'lot' as const, name: 'a lot' },
]
const whats = computed(() =>
  ((shop.value?.moves ?? []) as Choice<Move['what']>[]).filter(
    (m) => !['too see-through', 'too solid'].includes(m.key),
  ),
)
const saidAs = (what: Move['what']) => moves.value.find((m) => m.what === what)?.much
function turn(what: Move['what']) {
  const same = saidAs(what) === much.value
  moves.value = moves.value.filter((m) => m.what !== what)
  if (!same) moves.value.push({ what, much: much.value })
}
const inWords = ref(false)
async function say() {
  says.value = undefined
  busy.value = true
  try {
    const params = { path: { batch: props.batch.uid } }
    await ask(api.POST('/batches/{batch}/readings/said', { params, body: { moves: moves.value } }))
    emit('kept')
  } catch (e) {
    says.value = saysOf(e)
  } finally {
    busy.value = false
  }
}

async function keep() {
  says.value = undefined
  const [L, a, b] = [number(typed.L), number(typed.a), number(typed.b)]
  const mm = number(typed.mm)
  if ([L, a, b, mm].some((n) => !Number.isFinite(n))) {
    says.value = 'Type L, a, b and the thickness as figures: L 41.5, a 3, b 18.2, 8 mm.'
    return
  }
  busy.value = true
  try {
    await ask(
      api.POST('/batches/{batch}/readings', {
        params: { path: { batch: props.batch.uid } },
        body: {
          name: typed.name,
          lab: { L, a, b },
          thicknessMM: mm,
          ground: ground.value,
          state: state.value,
          how: how.value,
        },
      }),
    )
    emit('kept')
  } catch (e) {
    says.value = saysOf(e)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <SheetDialog title="What did it come out as?" @close="emit('close')">
    <div class="switch mt-3">
      <button type="button" :aria-pressed="!inWords" @click="inWords = false">Measured</button>
      <button type="button" :aria-pressed="inWords" @click="inWords = true">In words</button>
    </div>
    <form v-if="inWords" class="mt-4 flex flex-col gap-3" @submit.prevent="say">
      <p>Beside what was sought it is, or wants:</p>
      <div class="flex flex-wrap gap-1">
        <ToggleChip v-for="m in muches" :key="m.key" :on="much === m.key" @click="much = m.key">{{
          m.name
        }}</ToggleChip>
      </div>
      <div class="flex flex-wrap gap-1">
        <ToggleChip v-for="w in whats" :key="w.key" :on="!!saidAs(w.key)" @click="turn(w.key)"
          >{{ w.name
          }}<template v-if="saidAs(w.key)"
            >, {{ muches.find((m) => m.key === saidAs(w.key))?.name }}</template
          ></ToggleChip
        >
      </div>
      <p class="text-slate">Words count as a rough reading: a figure teaches more.</p>
      <ProblemNote :says="says" />
      <div class="flex gap-3">
        <button type="submit" class="button button-main" :disabled="busy">
          {{ moves.length ? 'Keep what I said' : 'It is just right' }}
        </button>
        <button type="button" class="button" @click="emit('close')">Leave it</button>
      </div>
    </form>
    <form v-else class="mt-4 flex flex-col gap-3" @submit.prevent="keep">
      <div class="flex flex-wrap gap-2">
        <ListPicker
          v-if="pinned.length"
          v-model="pin"
          label="Take it from a pinned photo"
          class="min-w-52 flex-1"
          :options="[{ key: '', name: 'Take it from a pinned photo…' }, ...pinned]"
        />
        <button v-for="(p, i) in batch.photos" :key="p" type="button" class="button" @click="pinPhoto(p)">
          {{ batch.photos.length > 1 ? `Pin photo ${i + 1}` : 'Pin this batch’s photo' }}
        </button>
      </div>
      <label class="block"
        >Which part<input v-model="typed.name" class="field" type="text" autocomplete="off" placeholder="Back"
      /></label>
      <div class="grid grid-cols-3 gap-3">
        <label v-for="axis in axes" :key="axis" class="block"
          >{{ axis
          }}<input
            v-model="typed[axis]"
            class="field figure"
            type="text"
            inputmode="decimal"
            autocomplete="off"
            :aria-label="axis"
        /></label>
      </div>
      <label class="block"
        >How thick it is there, mm<input
          v-model="typed.mm"
          class="field figure"
          type="text"
          inputmode="decimal"
          autocomplete="off"
      /></label>
      <ListPicker v-model="ground" label="What lay behind it" :options="grounds" />
      <ListPicker v-model="state" label="How old the plastic was" :options="states" />
      <ListPicker v-model="how" label="How it was read" :options="hows" />
      <p class="text-slate">
        A reading in daylight (D65). Read rested plastic if you can: hot and fresh look clearer or hazier.
      </p>
      <ProblemNote :says="says" />
      <div class="flex gap-3">
        <button type="submit" class="button button-main" :disabled="busy">Keep the reading</button>
        <button type="button" class="button" @click="emit('close')">Leave it</button>
      </div>
    </form>
  </SheetDialog>
</template>
