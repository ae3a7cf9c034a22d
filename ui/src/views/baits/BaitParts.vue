<script setup lang="ts">
import { computed } from 'vue'

import type { BaitPage, CupCard, RecipeItem } from '@/api/client'
import ColourPatch from '@/parts/ColourPatch.vue'
import FieldRow from '@/parts/FieldRow.vue'
import ListPicker from '@/parts/ListPicker.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import type { FieldProblem } from '@/use/bait'

// What the bait is made of: its cups, and each part with its measures.
const props = defineProps<{
  page: BaitPage
  bench: CupCard[]
  recipes: RecipeItem[]
  problem?: FieldProblem | undefined
}>()
const emit = defineEmits<{ set: [field: string, typed: string, recipe?: string] }>()
// A cup of the bench, or a recipe that a new one is poured of.
const ofRecipe = 'recipe '
const benchCups = computed(() => [
  ...props.bench.map((c) => ({ key: c.uid, name: c.name })),
  ...props.recipes.map((r) => ({ key: ofRecipe + r.uid, name: `Recipe: ${r.name}` })),
])
function choose(i: number, key: string) {
  if (key.startsWith(ofRecipe)) emit('set', `cups.${i}.cup`, '', key.slice(ofRecipe.length))
  else emit('set', `cups.${i}.cup`, key)
}
const letters = 'ABCDEFGH'
const ofBait = computed(() => props.page.cupCards.map((c, i) => ({ key: String(i), name: `${letters[i]}: ${c.name}` })))
const laid = computed(() => props.page.ways.filter((w) => ['core', 'skin', 'tail', 'bars', 'spots'].includes(w.key)))
const ml = (v: number) => v.toFixed(v < 1 ? 2 : 1)
const at = (key: string) => (props.problem?.at === key ? props.problem.message : undefined)
</script>

<template>
  <div class="flex flex-col gap-4">
    <section class="flex flex-col gap-2">
      <h2>Cups</h2>
      <div v-for="(c, i) in page.cupCards" :key="i" class="flex flex-col gap-1 border-b border-haze pb-2" :data-cup="i">
        <div class="flex items-center gap-3">
          <span class="figure w-4 font-semibold">{{ letters[i] }}</span>
          <ColourPatch :hex="c.swatch.hex" :name="`${c.name}, as a body`" class="h-11 w-11 shrink-0" />
          <ListPicker
            :model-value="c.uid"
            :label="`Cup ${letters[i]}`"
            :options="
              c.gone || !bench.some((b) => b.uid === c.uid) ? [{ key: c.uid, name: c.name }, ...benchCups] : benchCups
            "
            class="min-w-0 flex-1"
            @update:model-value="(v: string) => choose(i, v)"
          />
        </div>
        <p v-if="c.gone" class="says">Choose a cup for this: it is shown as plain smoke until then.</p>
        <p>
          <span class="figure">{{ ml(c.baitML) }} ml</span> a bait, <span class="figure">{{ ml(c.shotML) }} ml</span> a
          filling of the mold
        </p>
        <FieldRow
          v-if="page.cupCards.length > 1"
          :field="c.pour"
          :problem="problem"
          @typed="(k, t) => emit('set', k, t)"
        />
      </div>
    </section>
    <section v-if="page.parts.length > 1 || page.parts[0]?.fields.length" class="flex flex-col gap-2">
      <h2>Parts</h2>
      <div v-for="p in [...page.parts].reverse()" :key="p.key" class="relative border-b border-haze pb-2">
        <details :open="!p.loose || page.parts.length < 6" :data-part="p.key">
          <summary class="flex min-h-11 cursor-pointer items-center gap-2" :class="p.loose && 'pr-14'">
            <span class="figure w-4 font-semibold">{{ letters[p.cup] }}</span>
            <span class="flex-1 font-medium first-letter:uppercase">{{ p.name }}</span>
            <span class="figure">{{ ml(p.ml) }} ml</span>
          </summary>
          <ListPicker
            v-if="ofBait.length > 1"
            :model-value="String(p.cup)"
            :label="`Cup of the ${p.name}`"
            :options="ofBait"
            @update:model-value="(v: string) => emit('set', p.cupKey, v)"
          />
          <FieldRow
            v-for="f in p.fields"
            :key="f.key"
            :field="f"
            :problem="problem"
            @typed="(k, t) => emit('set', k, t)"
          />
          <p v-if="p.shown" class="leading-tight">
            Over the body it is {{ p.shown.says }}, ΔE00 <span class="figure">{{ p.shown.deltaE00.toFixed(0) }}</span>;
            from the far side <span class="figure">{{ p.shown.farSide.toFixed(0) }}</span>.
            <template v-if="p.shown.visible"
              >Plain with {{ p.shown.visible.changes.join(', ') || 'what is in it' }}.</template
            >
            <template v-if="p.shown.subtle"
              >Subtle with {{ p.shown.subtle.changes.join(', ') || 'what is in it' }}.</template
            >
          </p>
          <ProblemNote :says="at(p.key)" />
        </details>
        <button
          v-if="p.loose"
          type="button"
          class="button absolute top-0 right-0 px-3"
          :aria-label="`Take the ${p.name} away`"
          @click="emit('set', 'remove', p.key)"
        >
          ×
        </button>
      </div>
    </section>
    <section class="flex flex-col gap-2">
      <h2>Lay into it</h2>
      <div class="flex flex-wrap gap-2">
        <button
          v-for="w in laid"
          :key="w.key"
          type="button"
          class="button px-3"
          :title="w.about"
          @click="emit('set', page.parts.some((p) => p.key.startsWith(w.key + '.')) ? 'add' : 'way', w.key)"
        >
          {{
            page.parts.some((p) => p.key.startsWith(w.key + '.')) ? `One more of the ${w.name.toLowerCase()}` : w.name
          }}
        </button>
      </div>
      <ProblemNote :says="at('way') ?? at('add') ?? at('remove')" />
    </section>
  </div>
</template>
