<script setup lang="ts">
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'

import ColourPatch from '@/parts/ColourPatch.vue'
import ToggleChip from '@/parts/ToggleChip.vue'
import { useShelf, useShop } from '@/use/shop'

import AddBottle from './AddBottle.vue'
import StarterRack from './StarterRack.vue'
import { kindList, kinds } from '@/use/kinds'

const { bottles, query } = useShelf()
const { data: shop } = useShop()
const find = ref('')
const kind = ref('')
const hue = ref('')
const clarity = ref('')
const stays = ref(false)
const low = ref(false)
const choices = [{ key: '', name: 'All' }, ...kindList('many')]
const clarities = ['transparent', 'half', 'opaque']
const hot = ref(false)
const hues = computed(() => [...new Set(bottles.value.filter((b) => b.colours).map((b) => b.hue))])
const shown = computed(() => {
  const words = find.value.trim().toLowerCase()
  return bottles.value.filter(
    (b) =>
      (!words || `${b.name} ${b.note ?? ''} ${b.family ?? ''}`.toLowerCase().includes(words)) &&
      (!kind.value || b.kind === kind.value) &&
      (!hue.value || (b.hue === hue.value && b.colours)) &&
      (!clarity.value || (b.clarity === clarity.value && !!b.colourant)) &&
      (!stays.value || !b.runs) &&
      (!low.value || b.stockLow) &&
      (!hot.value || b.standsHeat),
  )
})
</script>

<template>
  <section class="grid flex-1 grid-cols-1 lg:grid-cols-[1fr_21rem]">
    <div class="surround p-4">
      <div class="flex flex-wrap items-center gap-2 pb-2">
        <h1 class="mr-2">Shelf</h1>
        <input
          v-model="find"
          class="field min-w-40 flex-1"
          type="search"
          placeholder="Find by name or note"
          aria-label="Find"
        />
        <ToggleChip v-for="k in choices" :key="k.key" :on="kind === k.key" @click="kind = k.key">
          {{ k.name }}
        </ToggleChip>
      </div>
      <div class="flex flex-wrap items-center gap-2 pb-3">
        <ToggleChip v-for="h in hues" :key="h" :on="hue === h" @click="hue = hue === h ? '' : h">
          {{ h }}
        </ToggleChip>
        <ToggleChip v-for="c in clarities" :key="c" :on="clarity === c" @click="clarity = clarity === c ? '' : c">
          {{ c === 'half' ? 'half opaque' : c }}
        </ToggleChip>
        <ToggleChip :on="stays" @click="stays = !stays"> does not run </ToggleChip>
        <ToggleChip :on="hot" @click="hot = !hot"> stands {{ shop?.usualWork }} </ToggleChip>
        <ToggleChip :on="low" @click="low = !low"> running low </ToggleChip>
      </div>
      <ul class="grid gap-2 sm:grid-cols-2 xl:grid-cols-3">
        <li v-for="b in shown" :key="b.uid">
          <RouterLink :to="`/shelf/${b.uid}`" class="flex h-full items-stretch">
            <ColourPatch :hex="b.swatch.hex" :name="`${b.name} at ${b.dose}`" class="w-16 shrink-0" />
            <ColourPatch v-if="b.tilted" :hex="b.tilted.hex" :name="`${b.name}, tilted`" class="w-8 shrink-0" />
            <div class="panel min-w-0 flex-1 px-3 py-2 leading-tight">
              <p class="truncate font-semibold">{{ b.name }}</p>
              <p class="truncate">
                {{ kinds[b.kind].bottle
                }}<template v-if="b.colourant">, {{ b.clarity === 'half' ? 'half opaque' : b.clarity }}</template
                ><template v-if="b.flake"
                  >, {{ b.flake.finish }},
                  <span class="figure">{{ String(b.flake.sizeIn.value.toFixed(3)).slice(1) }}</span></template
                ><template v-if="b.plastisol">, {{ b.plastisol.grade }}</template
                ><template v-if="b.runs">, runs</template>
              </p>
              <p class="truncate text-slate">
                <template v-if="b.stock.typed">{{ b.stock.typed }} left</template
                ><template v-if="b.stockLow">, buy more</template>
              </p>
            </div>
          </RouterLink>
        </li>
      </ul>
      <p v-if="query.isSuccess.value && !shown.length" class="text-lg">
        {{
          bottles.length
            ? 'Nothing on the shelf is like that.'
            : 'Nothing here yet. Begin with a rack of what most makers own first, or with your own bottles, one by one.'
        }}
      </p>
      <StarterRack v-if="query.isSuccess.value && !bottles.length" class="mt-4" />
    </div>
    <div class="flex flex-col gap-6 border-l border-haze bg-mist p-4">
      <AddBottle :shelf="bottles" />
      <RouterLink to="/kit" class="button">Kit</RouterLink>
    </div>
  </section>
</template>
