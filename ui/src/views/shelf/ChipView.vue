<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'

import { api, ask, Problem, saysOf, type Schemas } from '@/api/client'
import ColourPatch from '@/parts/ColourPatch.vue'
import ListPicker from '@/parts/ListPicker.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import ToggleChip from '@/parts/ToggleChip.vue'
import { useReferences } from '@/use/lists'
import { useShop } from '@/use/shop'

import CurvePlot from './CurvePlot.vue'

// Measures a bottle, or a plastisol, by chips: what to pour, what was read of it, and what that makes of the bottle. What is typed stays on
// this device until it is kept.
type How = Schemas['ChipAsk']['how']
interface Draft {
  volume: string
  how: How
  family: boolean
  first: { dose: string; lab: string }
  loads: { dose: string; labs: Record<string, string> }[]
}
const route = useRoute()
const router = useRouter()
const client = useQueryClient()
const { data: shop } = useShop()
const uid = computed(() => route.params.material as string)
const params = computed(() => ({ path: { material: uid.value } }))
const { data: page, error } = useQuery({
  queryKey: ['shelf', uid],
  queryFn: () => ask(api.GET('/materials/{material}', { params: params.value })),
})
const powder = computed(() => !!page.value?.powder)
const clear = computed(() => !!page.value?.plastisol)
const key = computed(() => `chips:${uid.value}`)
const fresh = (): Draft => ({
  volume: '1/2 cup',
  how: 'instrument',
  family: true,
  first: { dose: '', lab: '' },
  loads: [
    { dose: '', labs: {} },
    { dose: '', labs: {} },
  ],
})
const draft = ref<Draft>({ ...fresh(), ...(JSON.parse(localStorage.getItem(key.value) ?? '{}') as Partial<Draft>) })
watch(draft, (d) => localStorage.setItem(key.value, JSON.stringify(d)), { deep: true })
const hows = computed(() => (shop.value?.hows ?? []).filter((h) => h.key !== 'words') as { key: How; name: string }[])

const first = computed(() => {
  const { dose, lab } = draft.value.first
  return dose.trim() && lab.trim() ? { dose, cells: [{ thicknessMM: 4, ground: 'white' as const, lab }] } : undefined
})
const { data: guide, error: guideError } = useQuery({
  queryKey: ['chip-guide', uid, () => draft.value.volume, first],
  queryFn: () =>
    ask(
      api.POST('/materials/{material}/chips/guide', {
        params: params.value,
        body: { volume: draft.value.volume, ...(first.value && { first: first.value }) },
      }),
    ),
  retry: false,
  placeholderData: (was) => was,
})
watch(guide, (g) => {
  g?.loads.forEach((dose, i) => {
    if (draft.value.loads[i] && !draft.value.loads[i].dose) draft.value.loads[i].dose = dose
  })
})
const loads = computed(() => (clear.value ? draft.value.loads.slice(0, 1) : draft.value.loads))
const place = (mm: number, c: Column) => `${mm} ${c.ground}${c.tiltDeg ? ` ${c.tiltDeg}` : ''}`
const grounds: Record<string, string> = { white: 'on white', dark: 'on dark' }
interface Column {
  ground: Schemas['ChipCell']['ground']
  tiltDeg: number
  name: string
}
const columns = computed<Column[]>(() =>
  (guide.value?.grounds ?? []).flatMap((ground) =>
    (guide.value?.tilts ?? [0]).map((tiltDeg) => ({
      ground,
      tiltDeg,
      name: `${grounds[ground] ?? ground}${powder.value ? (tiltDeg ? ', tilted' : ', face-on') : ''}`,
    })),
  ),
)
const filled = computed(() => loads.value.flatMap((l) => Object.values(l.labs)).filter((s) => s.trim()).length)
const body = computed(() => ({
  volume: draft.value.volume,
  how: draft.value.how,
  family: draft.value.family,
  loads: loads.value.map((l) => ({
    dose: clear.value ? '' : l.dose,
    cells: (guide.value?.mm ?? []).flatMap((mm) =>
      columns.value.map((c) => ({
        thicknessMM: mm,
        ground: c.ground,
        ...(c.tiltDeg ? { tiltDeg: c.tiltDeg } : {}),
        lab: l.labs[place(mm, c)] ?? '',
      })),
    ),
  })),
}))
const { data: found, error: foundError } = useQuery({
  queryKey: ['chip-preview', uid, body],
  queryFn: () => ask(api.POST('/materials/{material}/chips/preview', { params: params.value, body: body.value })),
  enabled: computed(() => filled.value >= 4),
  retry: false,
  placeholderData: (was) => was,
})
const slip = computed(() => (foundError.value instanceof Problem ? foundError.value : undefined))
const saysAt = (load: number, cell: number) => slip.value?.field === `loads.${load}.cells.${cell}.lab`
const says = ref<string>()
const busy = ref(false)

// A photo of the chip that was pinned: a pin fills the place that was chosen.
const { items: references } = useReferences()
const pins = computed(() =>
  (references.value ?? []).flatMap((r) =>
    r.pins.map((p) => ({ key: p.uid, name: `${r.name}: ${p.name}`, lab: p.reading.lab, photo: !p.reading.from })),
  ),
)
const at = ref<{ load: number; place: string }>()
const pin = computed({
  get: () => '',
  set: (chosen) => {
    const p = pins.value.find((x) => x.key === chosen)
    if (!p || !at.value) return
    const load = draft.value.loads[at.value.load]
    if (load) load.labs[at.value.place] = [p.lab.L, p.lab.a, p.lab.b].map((v) => v.toFixed(1)).join(' ')
    if (p.photo) draft.value.how = 'photo'
  },
})

async function keep() {
  says.value = undefined
  busy.value = true
  try {
    await ask(
      api.PUT('/materials/{material}/chips', {
        params: params.value,
        body: { ...body.value, seen: page.value?.revision ?? 0 },
      }),
    )
    localStorage.removeItem(key.value)
    const was = key.value
    await client.invalidateQueries()
    await router.push(`/shelf/${uid.value}`)
    localStorage.removeItem(was)
  } catch (e) {
    says.value = saysOf(e)
    await client.invalidateQueries({ queryKey: ['shelf'] })
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <section v-if="page" class="mx-auto flex w-full max-w-6xl flex-col gap-5 p-4">
    <header>
      <h1>{{ page.name }}, measured by chips</h1>
      <p v-if="guide">{{ guide.says }}</p>
      <ProblemNote :says="guideError?.message" />
    </header>
    <div class="flex flex-wrap items-end gap-3">
      <label class="block"
        >Plastisol of each chip cup<input
          v-model.lazy="draft.volume"
          type="text"
          class="field figure"
          autocomplete="off"
      /></label>
      <div class="w-64">
        <span>How it is read</span>
        <ListPicker v-model="draft.how" label="How it is read" :options="hows" />
      </div>
      <ToggleChip v-if="!clear && !powder" :on="draft.family" @click="draft.family = !draft.family"
        >Lean on its family’s shape</ToggleChip
      >
    </div>
    <fieldset v-if="!clear && !powder" class="flex flex-wrap items-end gap-3 bg-mist p-3">
      <legend class="float-left basis-full">
        A first drop, to choose the loads by: 4 mm on white, if you poured one
      </legend>
      <label class="block"
        >What went in<input
          v-model.lazy="draft.first.dose"
          type="text"
          class="field figure"
          autocomplete="off"
          placeholder="1 drop"
      /></label>
      <label class="block"
        >L a b<input
          v-model.lazy="draft.first.lab"
          type="text"
          class="field figure"
          autocomplete="off"
          placeholder="62 4 31"
      /></label>
    </fieldset>
    <div class="grid items-start gap-5" :class="powder ? '' : 'lg:grid-cols-2'">
      <div class="flex flex-col gap-4">
        <section v-for="(l, i) in loads" :key="i" class="bg-white p-3" data-chip>
          <label v-if="!clear" class="flex flex-wrap items-center gap-2 pb-2">
            <span class="font-semibold">{{ i ? 'Strong chip' : 'Weak chip' }}</span>
            <input
              v-model.lazy="l.dose"
              type="text"
              class="field figure w-32!"
              autocomplete="off"
              :aria-label="i ? 'Dose of the strong chip' : 'Dose of the weak chip'"
            />
          </label>
          <table class="w-full text-left">
            <thead>
              <tr>
                <th class="w-20 font-medium">Step</th>
                <th v-for="c in columns" :key="c.name" class="px-1 font-medium">{{ c.name }}, L a b</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="(mm, r) in guide?.mm" :key="mm">
                <td class="figure">{{ mm }} mm</td>
                <td v-for="(c, k) in columns" :key="c.name" class="p-1">
                  <input
                    v-model.lazy="l.labs[place(mm, c)]"
                    type="text"
                    class="field figure"
                    autocomplete="off"
                    :aria-label="`${i ? 'Strong' : 'Weak'} chip, ${mm} mm ${c.name}`"
                    :aria-invalid="saysAt(i, r * columns.length + k)"
                    @focus="at = { load: i, place: place(mm, c) }"
                  />
                </td>
              </tr>
            </tbody>
          </table>
        </section>
        <ListPicker
          v-if="pins.length && at"
          v-model="pin"
          label="Take a pin into the place that was touched last"
          :options="[{ key: '', name: 'Take a pin into the place touched last…' }, ...pins]"
        />
        <p class="text-slate">
          Read it in daylight, or with an instrument set to D65. Leave out what you could not read; four readings are
          the least, sixteen are best.
        </p>
      </div>
      <div class="flex flex-col gap-3" data-testid="chip-found">
        <ProblemNote :says="slip?.message" />
        <p v-if="filled < 4" class="text-lg">
          {{ filled === 0 ? 'Nothing read yet.' : `${filled} of at least four read.` }}
        </p>
        <template v-else-if="found">
          <p class="text-lg">{{ found.says }}</p>
          <CurvePlot v-bind="found" />
          <p class="text-sm">
            Dark: as the {{ found.readings }} readings have it. Grey: as its figures had it. Full: what it takes;
            dashed: what it scatters, 1/mm, over wavelength in nm.
          </p>
          <div v-if="found.differs">
            <div class="flex h-14">
              <ColourPatch v-for="(s, i) in found.before" :key="i" :hex="s.hex" name="By its figures" class="flex-1" />
            </div>
            <div class="flex h-14">
              <ColourPatch v-for="(s, i) in found.after" :key="i" :hex="s.hex" name="By its chips" class="flex-1" />
            </div>
            <p class="pt-1">
              Above by its figures, below by its chips: {{ found.differs.words || 'the same' }}, ΔE00
              <span class="figure">{{ found.differs.deltaE00.toFixed(1) }}</span>.
            </p>
          </div>
          <ProblemNote :says="says" />
          <div class="flex flex-wrap gap-3">
            <button type="button" class="button button-main" :disabled="busy || !!slip" @click="keep">
              Keep it on the bottle
            </button>
            <RouterLink :to="`/shelf/${uid}`" class="button">Leave it</RouterLink>
          </div>
          <p class="text-slate">
            Recipes, matches and baits are worked out with it from then on; batches that were poured keep what was known
            then.
          </p>
        </template>
      </div>
    </div>
  </section>
  <section v-else-if="error" class="p-8"><ProblemNote :says="error.message" /></section>
</template>
