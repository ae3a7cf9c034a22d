<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { RouterLink } from 'vue-router'

import { api, ask, type BenchState } from '@/api/client'
import ColourPatch from '@/parts/ColourPatch.vue'
import { lab } from '@/use/amount'
import PhotoCrop from '@/parts/PhotoCrop.vue'

// The prediction beside its target (or its water, or itself tilted), the difference in words, then the figure; and the
// flake close up in true size.
const props = defineProps<{ state: BenchState; ahead: boolean }>()
defineEmits<{ untarget: [] }>()

const look = computed(() => props.state.look)
const target = computed(() => props.state.cup.target)
const patches = computed(() => {
  const l = look.value
  const list = [{ key: 'prediction', name: props.ahead ? 'With one more' : 'This cup, predicted', ...l.swatch }]
  if (l.openWater) list.push({ key: 'water', name: 'The open water', ...l.openWater })
  else if (l.tilted) list.push({ key: 'tilted', name: 'Tilted 45°', ...l.tilted })
  if (target.value && props.state.targetSwatch)
    list.push({ key: 'target', name: target.value.name, ...props.state.targetSwatch })
  return list
})
const elsewhere = computed(
  () =>
    target.value &&
    (target.value.thicknessMM !== look.value.thicknessMM ||
      target.value.ground !== look.value.ground ||
      (target.value.state ?? 'rested') !== look.value.state),
)
// The photo around the pin that became the target, as large as the patch beside it.
const { data: reference } = useQuery({
  queryKey: ['references', computed(() => target.value?.reference)],
  queryFn: () => ask(api.GET('/references/{reference}', { params: { path: { reference: target.value!.reference! } } })),
  enabled: computed(() => !!target.value?.reference),
  retry: false,
})
const crop = computed(() => {
  const r = reference.value
  const pin = r?.pins.find((p) => p.target.name === target.value?.name && !p.reading.from)
  if (!r?.photo || !pin) return undefined
  return { photo: r.photo, x: pin.disc.x, y: pin.disc.y, zoom: 128 / Math.max(60, 10 * pin.disc.radius) }
})
</script>

<template>
  <div class="flex flex-wrap gap-x-4 gap-y-2">
    <div class="flex min-w-40 flex-1 basis-64">
      <div v-for="p in patches" :key="p.key" class="min-w-0 flex-1">
        <ColourPatch :hex="p.hex" :name="p.name" class="h-24" :data-testid="p.key" :data-hex="p.hex" />
        <p class="line-clamp-2 pt-1 text-sm leading-tight font-semibold">{{ p.name }}</p>
        <p class="figure text-sm whitespace-pre-wrap">{{ lab(p.lab) }}</p>
      </div>
    </div>
    <figure v-if="crop" class="w-40" data-testid="crop">
      <PhotoCrop class="h-24" v-bind="crop" :name="`The photo around ${target!.name}`" />
      <figcaption class="pt-1 text-sm leading-tight">
        The photo there{{ reference?.light ? ', as the camera wrote it' : '' }}
      </figcaption>
    </figure>
    <figure v-if="state.closeUp" class="min-w-40 flex-1 basis-40" data-testid="close-up">
      <div class="relative h-24 overflow-hidden">
        <img
          :src="state.closeUp.png"
          alt="The flake close up, in true proportion"
          class="h-full w-full object-cover object-left"
        />
      </div>
      <figcaption class="pt-1 text-sm leading-tight">
        Close up: <span class="figure">{{ state.closeUp.widthMM.toFixed(0) }} mm</span> across,
        <template v-for="(f, i) in state.flakes" :key="f.material"
          >{{ i ? ' · ' : '' }}<span class="figure">{{ f.countPerCM2.toFixed(0) }}</span
          >/cm²</template
        >
      </figcaption>
    </figure>
    <div class="min-w-52 flex-1 basis-52">
      <template v-if="look.inWater">
        <p class="text-lg font-semibold">{{ look.inWaterSays }}</p>
        <p>
          ΔE00 <span class="figure">{{ look.inWater.deltaE00.toFixed(1) }}</span> against the water itself<template
            v-if="look.inWater.words"
            >: {{ look.inWater.words }}</template
          >
        </p>
      </template>
      <template v-if="look.against">
        <div class="flex items-start gap-3">
          <div class="min-w-0 flex-1">
            <p class="text-2xl leading-tight font-semibold first-letter:uppercase" data-testid="nearness">
              {{ look.against.nearness }}
            </p>
            <p v-if="look.against.words" class="leading-tight" data-testid="lean">{{ look.against.words }}</p>
          </div>
          <p class="text-right leading-none">
            <span class="figure block text-4xl font-semibold" data-testid="delta">{{
              look.against.deltaE00.toFixed(1)
            }}</span>
            <span class="text-sm">ΔE00</span>
          </p>
        </div>
        <p v-if="look.enough" class="leading-tight" data-testid="enough">{{ look.enough }}</p>
      </template>
      <p v-else-if="!look.inWater">
        No target yet.
        <RouterLink to="/references" class="text-inherit underline underline-offset-4"
          >Pin one on a reference</RouterLink
        >
      </p>
      <slot />
      <p class="pt-1 leading-tight">
        <span class="figure">{{ (100 * look.seeThrough).toFixed(0) }} %</span> of the light comes through at
        <span class="figure">{{ look.thicknessMM }} mm</span>
      </p>
      <p v-if="look.range !== undefined" class="leading-tight">
        Guesses leave a range of ΔE00 <span class="figure">{{ look.range.toFixed(1) }}</span>
      </p>
      <p v-if="elsewhere && target" class="leading-tight">
        The target was read at {{ target.thicknessMM }} mm,
        {{ target.ground === 'against' ? 'against the light' : `over ${target.ground}` }},
        {{ target.state ?? 'rested' }}.
      </p>
      <p class="leading-tight">{{ look.sure }}</p>
      <button v-if="target" type="button" class="ml-3 min-h-11 underline underline-offset-4" @click="$emit('untarget')">
        Take the target away
      </button>
    </div>
  </div>
  <ul v-if="look.watch.length" class="says flex flex-col text-ink" aria-label="Watch out">
    <li v-for="w in look.watch" :key="w.kind + w.material + w.says">
      <details>
        <summary class="cursor-pointer py-1 leading-tight">{{ w.says }}</summary>
        <p class="pb-1 pl-4 text-slate">{{ w.why }}</p>
      </details>
    </li>
  </ul>
  <p class="leading-tight" data-testid="feel">
    <span class="figure">{{ look.feel.densityGML.toFixed(3) }}</span> g/ml:
    {{ look.feel.floatsFresh ? 'floats in fresh water' : 'sinks in fresh water' }}
    <span class="figure">({{ Math.abs(look.feel.sinkFreshCMS).toFixed(0) }} cm/s)</span>,
    {{ look.feel.floatsSalt ? 'floats in the sea' : 'sinks in the sea' }}. In the hand {{ look.feel.handWords }}, and
    {{ look.feel.strengthWords
    }}<template v-if="look.feel.hookToSinkG > 0"
      >; a hook of <span class="figure">{{ look.feel.hookToSinkG.toFixed(1) }} g</span> sinks it</template
    >.
  </p>
</template>
