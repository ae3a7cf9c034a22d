<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'

import { api, ask, Problem, type RecipeCard, type Scaled } from '@/api/client'
import ProblemNote from '@/parts/ProblemNote.vue'
import TypedField from '@/parts/TypedField.vue'
import ToggleChip from '@/parts/ToggleChip.vue'
import { amount } from '@/use/amount'
import { useShelf } from '@/use/shop'

// The same colour in another volume: exact drops, what rounding either way does to the colour, and which to take.
const props = defineProps<{ recipe: RecipeCard }>()
defineEmits<{ pour: [volume: string, rounding: Rounding] }>()
type Rounding = 'lines' | 'together' | 'weaker'
const { nameOf } = useShelf()
const volumes = ['1/2 cup', '1 cup', '2 cups', '300 ml', '1 gal']
const volume = ref('1/2 cup')
const open = ref('')
const uid = computed(() => props.recipe.uid)
const { data, error, isFetching } = useQuery({
  queryKey: ['recipes', uid, 'scale', volume, () => props.recipe.revision],
  queryFn: () =>
    ask(
      api.GET('/recipes/{recipe}/scale', { params: { path: { recipe: uid.value }, query: { volume: volume.value } } }),
    ),
  retry: (n, e) => e instanceof Problem && e.unreachable && n < 3,
})
const scaled = computed(() => (error.value ? undefined : data.value))
const wanted = ref<Rounding>('together')
// The ways to round that there are here, the plain one first.
const ways = computed(() => {
  const s = scaled.value
  if (!s) return []
  return [
    {
      key: 'lines' as const,
      name: 'Each line by itself',
      deltaE00: s.deltaE00,
      nearness: s.nearness,
      says: '',
      cup: s.cup,
    },
    ...(s.together ? [{ key: 'together' as const, name: 'All lines together', ...s.together }] : []),
    ...(s.weaker ? [{ key: 'weaker' as const, name: 'With weaker cuts', ...s.weaker }] : []),
  ]
})
const way = computed(() => ways.value.find((w) => w.key === wanted.value) ?? ways.value[0])
const exact = (l: Scaled['lines'][number]) =>
  Number(l.exact.value.toFixed(3)) + (l.exact.unit === 'drops' ? '' : ` ${l.exact.unit}`)
</script>

<template>
  <div>
    <h2 class="pb-2">In another volume</h2>
    <div class="flex flex-wrap items-center gap-2">
      <ToggleChip v-for="v in volumes" :key="v" class="figure" :on="volume === v" @click="volume = v">
        {{ v }}
      </ToggleChip>
      <div class="w-36">
        <TypedField label="Another volume" figure :value="volume" :says="error?.message" @typed="(t) => (volume = t)" />
      </div>
    </div>
    <ProblemNote class="mt-2" :says="error?.message" />
    <div v-if="scaled" class="mt-3 overflow-x-auto" :aria-busy="isFetching" :data-volume="scaled.to.typed">
      <table class="w-full border-collapse bg-white text-left">
        <thead>
          <tr class="border-b border-haze">
            <th class="px-3 py-2 font-medium">Bottle</th>
            <th class="px-3 py-2 text-right font-medium">Exactly</th>
            <th class="px-3 py-2 text-right font-medium">Down</th>
            <th class="px-3 py-2 text-right font-medium">Up</th>
            <th class="px-3 py-2 text-right font-medium">Take</th>
            <th class="px-3 py-2 font-medium">Why</th>
          </tr>
        </thead>
        <tbody>
          <template v-for="(l, i) in scaled.lines" :key="l.material">
            <tr class="border-b border-haze align-top" :data-scaled="l.material">
              <td class="px-3 py-2">{{ nameOf(l.material) }}</td>
              <td class="figure px-3 text-right">
                <button
                  type="button"
                  class="link min-h-11"
                  :aria-expanded="open === l.material"
                  @click="open = open === l.material ? '' : l.material"
                >
                  {{ exact(l) }}
                </button>
              </td>
              <td class="figure px-3 py-2 text-right" :class="l.take.value === l.down.amount.value && 'font-bold'">
                {{ l.exact.unit === 'drops' ? l.down.amount.value : l.down.says }}<br /><span
                  class="font-normal whitespace-nowrap text-slate"
                  >ΔE {{ l.down.deltaE00.toFixed(1) }}</span
                >
              </td>
              <td class="figure px-3 py-2 text-right" :class="l.take.value === l.up.amount.value && 'font-bold'">
                {{ l.exact.unit === 'drops' ? l.up.amount.value : l.up.says }}<br /><span
                  class="font-normal whitespace-nowrap text-slate"
                  >ΔE {{ l.up.deltaE00.toFixed(1) }}</span
                >
              </td>
              <td class="figure px-3 py-2 text-right text-xl font-bold" data-take>
                {{ way ? amount(way.cup.doses[i]!) : '' }}
              </td>
              <td v-if="way?.key === 'weaker' && way.cup.doses[i]!.material !== l.material" class="px-3 py-2">
                of {{ nameOf(way.cup.doses[i]!.material) }}, in its place
              </td>
              <td v-else-if="way && way.cup.doses[i]!.amount.value !== l.take.value" class="px-3 py-2">
                off the nearest, so that all lines together come closer
              </td>
              <td v-else class="px-3 py-2">
                {{ l.why }}<template v-if="l.scoops"><br />{{ l.scoops }}</template
                ><template v-if="l.fewer"
                  ><br /><span class="text-slate">or {{ l.fewer }}</span></template
                >
              </td>
            </tr>
            <tr v-if="open === l.material" class="border-b border-haze">
              <td colspan="6" class="figure px-3 py-2 text-slate">{{ l.working }}</td>
            </tr>
          </template>
        </tbody>
      </table>
      <div v-if="ways.length > 1" class="mt-3 flex flex-wrap gap-2" data-testid="ways">
        <ToggleChip v-for="w in ways" :key="w.key" :on="way?.key === w.key" @click="wanted = w.key">
          {{ w.name }}: ΔE00 <span class="figure">{{ w.deltaE00.toFixed(1) }}</span>
        </ToggleChip>
      </div>
      <p v-if="way" class="pt-2" data-testid="rounding">
        All taken as shown, beside the exact recipe: {{ way.nearness }}, ΔE00
        <span class="figure">{{ way.deltaE00.toFixed(1) }}</span>, seen as on the left.
        <template v-if="way.says"><br />{{ way.says }}.</template>
      </p>
      <p v-if="scaled.advice" class="says mt-2">{{ scaled.advice }}.</p>
      <p v-for="e in scaled.even" :key="e.volume.typed" class="pt-1">
        <button type="button" class="link min-h-11" @click="volume = e.volume.typed">{{ e.says }}</button>
      </p>
      <button type="button" class="button mt-2" @click="$emit('pour', scaled.to.typed, way?.key ?? 'lines')">
        Pour {{ scaled.to.typed }} on the bench
      </button>
    </div>
  </div>
</template>
