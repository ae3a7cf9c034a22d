<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'

import { api, ask } from '@/api/client'
import ColourPatch from '@/parts/ColourPatch.vue'
import ListPicker from '@/parts/ListPicker.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import RangeField from '@/parts/RangeField.vue'
import ToggleChip from '@/parts/ToggleChip.vue'
import { useShop } from '@/use/shop'

// A bait of two cups: how they lie in it, and what shows through.
const route = useRoute()
const router = useRouter()
const { data: shop } = useShop()
const { data: shapes } = useQuery({ queryKey: ['baits'], queryFn: () => ask(api.GET('/baits')), staleTime: Infinity })
const { data: cups } = useQuery({ queryKey: ['cups'], queryFn: () => ask(api.GET('/bench-cups')) })
const uid = computed(() => route.params.cup as string)
const q = (key: string) => (route.query[key] as string) ?? ''
const see = (change: Record<string, string>) => void router.replace({ query: { ...route.query, ...change } })
const pick = (key: string, usual: string) =>
  computed({ get: () => q(key) || usual, set: (v: string) => see({ [key]: v }) })
const bait = pick('bait', 'paddle-minnow')
const kind = pick('kind', 'laminate')
const ground = pick('ground', 'white')
const light = pick('light', 'D65')
const others = computed(() => (cups.value ?? []).filter((c) => c.uid !== uid.value))
const second = computed({
  get: () => q('second') || others.value[0]?.uid || '',
  set: (v: string) => see({ second: v }),
})
const nameOf = (c: { cup: { letter?: string; part?: string; volume: { typed: string }; doses: unknown[] } }) =>
  [c.cup.letter && `Cup ${c.cup.letter}`, c.cup.part, `${c.cup.volume.typed}, ${c.cup.doses.length} in it`]
    .filter(Boolean)
    .join(': ')
const first = computed(() => cups.value?.find((c) => c.uid === uid.value))
const kinds = [
  { key: 'single', name: 'One colour' },
  { key: 'laminate', name: 'Back and belly' },
  { key: 'core', name: 'A core' },
]
const query = computed(() => ({
  bait: bait.value,
  kind: kind.value as 'laminate',
  second: second.value,
  boundary: Number(q('boundary')) || 0,
  blur: Number(q('blur') || 1.5),
  core: Number(q('core') || 0.5),
  ground: ground.value as 'white',
  light: light.value as 'D65',
}))
const { data, error } = useQuery({
  queryKey: ['bait', uid, query],
  queryFn: () => ask(api.GET('/bait/{cup}', { params: { path: { cup: uid.value }, query: query.value } })),
  enabled: computed(() => kind.value === 'single' || !!second.value),
  placeholderData: (was) => was,
  retry: false,
})

const file = computed(
  () =>
    `/api/v1/bait/${uid.value}/picture?` +
    new URLSearchParams(Object.entries(query.value).map(([k, v]) => [k, String(v)])).toString(),
)

// The boundary is dragged on the picture itself.
function drag(e: PointerEvent) {
  if (kind.value !== 'laminate' || !e.buttons) return
  const box = (e.currentTarget as HTMLElement).getBoundingClientRect()
  const at = 1 - (2 * (e.clientY - box.top)) / box.height
  see({ boundary: Math.min(0.9, Math.max(-0.9, at * 2.2)).toFixed(2) })
}
</script>

<template>
  <section class="grid flex-1 lg:grid-cols-[1fr_24rem]">
    <div class="surround flex min-w-0 flex-col gap-3 p-4">
      <div class="flex flex-wrap items-center gap-2">
        <h1 class="mr-auto">The bait in the hand</h1>
        <ListPicker v-if="shop" v-model="ground" label="Ground" :options="shop.grounds" class="w-52" />
        <ListPicker v-if="shop" v-model="light" label="Light" :options="shop.lights" class="w-56" />
      </div>
      <template v-if="data && !error">
        <div>
          <p>From its main side<template v-if="kind === 'laminate'">: drag the boundary</template></p>
          <img
            :src="data.side.png"
            alt="The bait from its main side"
            class="w-full touch-none select-none"
            draggable="false"
            data-testid="bait-side"
            @pointerdown="drag"
            @pointermove="drag"
          />
        </div>
        <div>
          <p>Turned by a quarter<template v-if="kind === 'laminate'">, the back to you</template></p>
          <img :src="data.back.png" alt="The bait turned by a quarter" class="max-h-60 w-full object-contain" />
        </div>
      </template>
      <ProblemNote class="text-ink" :says="error?.message" />
      <p v-if="kind !== 'single' && cups && !others.length" class="says text-ink">
        This takes a second cup. Put one on the bench, or split this one.
      </p>
    </div>
    <div class="flex flex-col gap-4 border-l border-haze bg-mist p-4">
      <p><RouterLink :to="`/bench/${uid}?bait=${bait}`" class="link">To the cup on the bench</RouterLink></p>
      <ListPicker v-model="bait" label="Bait" :options="shapes ?? []" />
      <p class="text-slate">{{ data?.shape.about }}</p>
      <div class="flex flex-wrap gap-2">
        <ToggleChip v-for="k in kinds" :key="k.key" :on="kind === k.key" @click="kind = k.key">{{ k.name }}</ToggleChip>
      </div>
      <div v-if="first" class="flex items-center gap-3">
        <ColourPatch :hex="first.swatch.hex" name="This cup, as a body" class="h-11 w-11" />
        <p>
          {{ kind === 'core' ? 'Outside' : kind === 'laminate' ? 'Back' : 'All of it' }}: {{ nameOf(first)
          }}<template v-if="data"
            >, <span class="figure">{{ data.firstML.toFixed(1) }} ml</span> a bait</template
          >
        </p>
      </div>
      <template v-if="kind !== 'single'">
        <div class="flex flex-col gap-2">
          <span>{{ kind === 'core' ? 'Core' : 'Belly' }}</span>
          <ListPicker
            v-model="second"
            label="Second cup"
            :options="others.map((c) => ({ key: c.uid, name: nameOf(c) }))"
          />
          <p v-if="data">
            <span class="figure">{{ data.secondML.toFixed(1) }} ml</span> a bait
          </p>
        </div>
        <template v-if="kind === 'laminate'">
          <RangeField
            label="Boundary"
            :value="query.boundary"
            :min="-0.9"
            :max="0.9"
            :step="0.05"
            :says="query.boundary.toFixed(2)"
            @slide="(boundary) => see({ boundary })"
          />
          <RangeField
            label="Runs into"
            about="Softness of the boundary"
            :value="query.blur"
            :min="0"
            :max="6"
            :step="0.5"
            :says="`${query.blur} mm`"
            @slide="(blur) => see({ blur })"
          />
          <p class="text-slate">Hotter cups run into each other; cooler, equal ones keep apart.</p>
        </template>
        <RangeField
          v-else
          label="Core"
          about="Width of the core"
          :value="query.core"
          :min="0.1"
          :max="0.9"
          :step="0.05"
          :says="`${(100 * query.core).toFixed(0)} %`"
          @slide="(core) => see({ core })"
        />
        <div v-if="data?.apart" class="says">
          <p>
            The two are {{ data.apartSays }}, ΔE00 <span class="figure">{{ data.apart.deltaE00.toFixed(1) }}</span>.
          </p>
          <p v-if="data.through">
            What lies behind makes the {{ kind === 'core' ? 'core' : 'belly' }}
            {{ data.through.words || 'no other colour' }}, ΔE00
            <span class="figure">{{ data.through.deltaE00.toFixed(1) }}</span>.
          </p>
        </div>
      </template>
      <a class="button self-start" :href="file" download>Save the picture</a>
      <p class="text-slate">Hot plastisol burns and sticks: gloves, sleeves, eye protection, dry molds.</p>
    </div>
  </section>
</template>
