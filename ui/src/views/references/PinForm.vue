<script setup lang="ts">
import { computed, ref } from 'vue'

import { api, ask, Problem, saysOf, type ReferenceCard, type Sample, type ShopInfo } from '@/api/client'
import ColourPatch from '@/parts/ColourPatch.vue'
import ListPicker from '@/parts/ListPicker.vue'
import PhotoCrop from '@/parts/PhotoCrop.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import ToggleChip from '@/parts/ToggleChip.vue'
import { useShapes } from '@/use/shop'

import { useLaid } from './laid'
import type { Spot } from './spot'

// The spot that is pointed at: its colour, a magnifier, and what it is kept as.
const props = defineProps<{
  reference: ReferenceCard
  shop: ShopInfo
  disc: Spot
  sample?: Sample
  painting: boolean
  fault?: string
}>()
const { grounds, states } = useLaid(() => props.shop)
const emit = defineEmits<{ kept: [reference: ReferenceCard]; leave: []; grow: [by: number]; paint: []; anew: [] }>()
const name = ref('')
const thickness = ref('8')
const sampleNo = ref('')
const state = ref<'hot' | 'fresh' | 'rested'>('rested')
const ground = ref<ReferenceCard['pins'][number]['ground']>('white')
const says = ref('')
const badField = ref('')
const lab = (c: { L: number; a: number; b: number }) => `L ${c.L.toFixed(1)}  a ${c.a.toFixed(1)}  b ${c.b.toFixed(1)}`
const zoom = computed(() => Math.min(8, Math.max(1, 36 / props.disc.radius)))

async function keep() {
  says.value = badField.value = ''
  try {
    const body = {
      name: name.value,
      disc: props.disc,
      thicknessMM: Number(thickness.value.replace(',', '.')) || 0,
      ground: ground.value,
      state: state.value,
      sample: Math.max(0, Math.round(Number(sampleNo.value) || 0)),
    }
    const params = { path: { reference: props.reference.uid } }
    emit('kept', await ask(api.POST('/references/{reference}/pins', { params, body })))
    name.value = ''
  } catch (e) {
    says.value = saysOf(e)
    badField.value = (e instanceof Problem && e.field) || ''
  }
}

// The thickness off a mold's own shape: where the bait's ends lie in the photo is asked for once.
const { data: shapes } = useShapes()
const mold = ref('')
const ends = ref<[number, number][]>([])
const measuring = ref(false)
const asks = computed(() =>
  measuring.value && mold.value
    ? ['Point at the bait’s nose in the photo.', 'Point at the far end of its tail.'][ends.value.length]
    : undefined,
)
/** A place of the photo that was pointed at; true if it was asked for. */
function take(x: number, y: number): boolean {
  if (!asks.value) return false
  ends.value.push([x, y])
  if (!asks.value) void readThickness()
  return true
}
defineExpose({ take })
async function readThickness() {
  if (!mold.value || ends.value.length < 2) return
  says.value = ''
  const [nose, tail] = ends.value as [[number, number], [number, number]]
  try {
    const query = { mold: mold.value, nose: nose, tail: tail, at: [props.disc.x, props.disc.y] }
    const { thicknessMM } = await ask(
      api.GET('/references/{reference}/thickness', { params: { path: { reference: props.reference.uid }, query } }),
    )
    thickness.value = thicknessMM.toFixed(1)
  } catch (e) {
    says.value = saysOf(e)
  }
}
</script>

<template>
  <form class="flex flex-col gap-3" @submit.prevent="keep">
    <div class="surround grid grid-cols-2 p-4">
      <ColourPatch
        v-if="sample"
        :hex="sample.swatch.hex"
        name="Colour of the spot"
        class="h-28"
        data-testid="sample"
        :data-hex="sample.swatch.hex"
      />
      <PhotoCrop
        v-if="reference.photo"
        class="h-28"
        :photo="reference.photo"
        name="The spot, enlarged"
        :x="disc.x"
        :y="disc.y"
        :zoom="zoom"
        :radius="disc.stroke?.length ? 0 : disc.radius"
        data-testid="magnifier"
      />
    </div>
    <template v-if="sample">
      <p class="figure whitespace-pre-wrap">{{ lab(sample.lab) }}</p>
      <p v-if="sample.error">
        Expected to be off by ΔE00 <span class="figure">{{ sample.error.toFixed(1) }}</span>; within twice that in nine
        of ten.
      </p>
      <p>
        From {{ (100 * sample.kept).toFixed(0) }} % of the spot<template v-if="sample.glare >= 0.01"
          >; {{ (100 * sample.glare).toFixed(0) }} % left out as glare</template
        >.
      </p>
      <ProblemNote :says="sample.warning" />
    </template>
    <div class="flex flex-wrap items-center gap-2">
      <button type="button" class="button w-11 px-0 text-xl" aria-label="Smaller spot" @click="emit('grow', 1 / 1.25)">
        −
      </button>
      <span class="figure">{{ Math.round(2 * disc.radius) }} px</span>
      <button type="button" class="button w-11 px-0 text-xl" aria-label="Larger spot" @click="emit('grow', 1.25)">
        +
      </button>
      <ToggleChip :on="painting" @click="emit('paint')">Paint an area</ToggleChip>
      <button v-if="disc.stroke?.length" type="button" class="link min-h-11" @click="emit('anew')">Paint anew</button>
    </div>
    <label class="block">
      <span>Part</span>
      <input
        v-model="name"
        class="field"
        type="text"
        placeholder="Back, belly, tail…"
        autocomplete="off"
        :aria-invalid="badField === 'name'"
        data-testid="pin-name"
      />
    </label>
    <div class="grid grid-cols-2 gap-2">
      <label class="block">
        <span>Thickness there, mm</span>
        <input
          v-model="thickness"
          class="field figure"
          inputmode="decimal"
          :aria-invalid="badField === 'thicknessMM'"
          data-testid="pin-mm"
        />
      </label>
      <div>
        <span>It lies</span>
        <ListPicker v-model="ground" label="Ground" :options="grounds" />
      </div>
    </div>
    <button type="button" class="link min-h-11 self-start" :aria-expanded="measuring" @click="measuring = !measuring">
      Read the thickness off a mold
    </button>
    <template v-if="measuring">
      <ListPicker
        v-model="mold"
        label="Mold"
        :options="[{ key: '', name: 'Which mold?' }, ...(shapes ?? [])]"
        @update:model-value="readThickness"
      />
      <p v-if="asks" class="says">{{ asks }}</p>
      <div v-else-if="mold" class="flex gap-4">
        <button type="button" class="link min-h-11" @click="readThickness">Read it here</button>
        <button type="button" class="link min-h-11" @click="ends = []">Point at the ends anew</button>
      </div>
    </template>
    <div>
      <span>How old the plastic is on the photo</span>
      <ListPicker v-model="state" label="State of the plastic" :options="states" />
    </div>
    <label class="flex items-center gap-2">
      <span class="flex-1">Which bait of the bag, if there are several</span>
      <input v-model="sampleNo" class="field figure w-20!" inputmode="numeric" data-testid="pin-sample" />
    </label>
    <ProblemNote :says="says || fault" />
    <div class="flex gap-3">
      <button type="submit" class="button button-main">Keep this pin</button>
      <button type="button" class="button" @click="emit('leave')">Leave it</button>
    </div>
  </form>
</template>
