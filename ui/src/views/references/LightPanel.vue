<script setup lang="ts">
import { computed, ref } from 'vue'

import { api, saysOf, type ReferenceCard, type ShopInfo } from '@/api/client'
import ListPicker from '@/parts/ListPicker.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import { useReferenceChange } from '@/use/reference'

// The light of the photo, undone by something known in it. What is to be pointed at next is asked for; the photo hands the
// places over.
const props = defineProps<{ reference: ReferenceCard; shop: ShopInfo }>()
const emit = defineEmits<{ lit: [reference: ReferenceCard] }>()
type Kind = 'white-grey' | 'card' | 'bare'
const kind = ref<Kind>()
const places = ref<{ x: number; y: number; radius: number }[]>([])
const lamp = ref('D65')
const whitePct = ref('88')
const greyPct = ref('18')
const chart = ref('')
const chartName = ref('')
const says = ref('')
const busy = ref(false)

const steps: Record<Kind, string[]> = {
  'white-grey': ['Point at the white thing.', 'Point at the grey thing.'],
  card: ['its top left corner', 'its top right corner', 'its bottom right corner', 'its bottom left corner'].map(
    (c) => `Point at the card: ${c}, as its patches are named.`,
  ),
  bare: ['Point at the bare lamp, window or sky beside the bait.'],
}
const asks = computed(() => (kind.value ? steps[kind.value][places.value.length] : undefined))
const lamps = computed(() => [{ key: '', name: 'a light that nobody knows' }, ...props.shop.lights])
const words: Record<Kind, string> = { 'white-grey': 'White and grey', card: 'A card', bare: 'Held to the light' }

function begin(k: Kind) {
  kind.value = kind.value === k ? undefined : k
  places.value = []
  says.value = ''
}
/** A place of the photo that was pointed at; true if it was asked for. */
function take(x: number, y: number): boolean {
  if (!asks.value) return false
  places.value.push({ x, y, radius: Math.max(6, Math.round(props.reference.photo!.widthPX / 45)) })
  if (!asks.value) void send()
  return true
}
defineExpose({ take })

const change = useReferenceChange(
  () => props.reference,
  (r) => emit('lit', r),
)
async function send(none = false) {
  const [a, b] = places.value
  busy.value = true
  try {
    const body = {
      kind: none ? ('none' as const) : kind.value!,
      lamp: lamp.value as 'D65',
      ...(kind.value === 'white-grey' && !none
        ? { white: a!, grey: b!, whitePct: Number(whitePct.value) || 0, greyPct: Number(greyPct.value) || 0 }
        : {}),
      ...(kind.value === 'card' && !none ? { corners: places.value.map((p) => [p.x, p.y]), chart: chart.value } : {}),
      ...(kind.value === 'bare' && !none ? { bare: a! } : {}),
    }
    await change((seen) =>
      api.POST('/references/{reference}/light', {
        params: { path: { reference: props.reference.uid } },
        body: { seen, ...body },
      }),
    )
    kind.value = undefined
    says.value = ''
  } catch (e) {
    says.value = saysOf(e)
  } finally {
    places.value = []
    busy.value = false
  }
}
async function file(e: Event) {
  const chosen = (e.target as HTMLInputElement).files?.[0]
  chart.value = chosen ? await chosen.text() : ''
  chartName.value = chosen?.name ?? ''
}
</script>

<template>
  <section class="flex flex-col gap-3 border-b border-haze pb-4">
    <h2>The light</h2>
    <template v-if="reference.light">
      <p>
        Undone by
        {{ { 'white-grey': 'white and grey', card: 'a card', bare: 'the bare light' }[reference.light.kind] }}; what is
        left there: ΔE00 <span class="figure">{{ reference.light.residual.toFixed(1) }}</span>.
        {{ reference.lightSays[0] }}
      </p>
      <p v-for="w in reference.lightSays.slice(1)" :key="w" class="says">{{ w }}</p>
    </template>
    <p v-else class="says">
      The light is not undone: colours are as the camera wrote them, and only differences within this photo mean
      anything. With something white and something grey in it, or a card, they can be told.
    </p>
    <div class="flex flex-wrap gap-2">
      <button
        v-for="(name, k) in words"
        :key="k"
        type="button"
        class="button px-3"
        :class="kind === k && 'bg-ink! text-white!'"
        @click="begin(k)"
      >
        {{ name }}
      </button>
      <button v-if="reference.light" type="button" class="button px-3" @click="send(true)">As it was</button>
    </div>
    <template v-if="kind">
      <ListPicker v-if="kind !== 'card'" v-model="lamp" label="The light it was taken in" :options="lamps" />
      <div v-if="kind === 'white-grey'" class="grid grid-cols-2 gap-2">
        <label>White sends back, %<input v-model="whitePct" class="field figure" inputmode="decimal" /></label>
        <label>Grey, %<input v-model="greyPct" class="field figure" inputmode="decimal" /></label>
      </div>
      <label v-if="kind === 'card'" class="button cursor-pointer">
        {{
          chartName || (shop.card ? 'The card’s own file, if it is another one' : 'The card’s own file (CGATS or CSV)')
        }}
        <input
          type="file"
          accept=".txt,.csv,.cgats,text/plain,text/csv"
          class="sr-only"
          aria-label="Card file"
          @change="file"
        />
      </label>
      <p class="says" data-testid="light-asks">{{ busy ? 'Working it out…' : asks }}</p>
    </template>
    <ProblemNote :says="says" />
  </section>
</template>
