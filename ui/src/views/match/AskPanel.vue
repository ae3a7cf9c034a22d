<script setup lang="ts">
import { computed, ref } from 'vue'

import type { Bottle, Dose, ReferenceCard } from '@/api/client'
import ListPicker from '@/parts/ListPicker.vue'
import ToggleChip from '@/parts/ToggleChip.vue'
import { dose } from '@/use/amount'

import type { Reading, useAsk } from './ask'

// What is to be met, from what: the readings that count, the cup, and what of the shelf is allowed.
const props = defineProps<{
  references: ReferenceCard[]
  reference: ReferenceCard | undefined
  bottles: Bottle[]
  nameOf: (uid: string) => string
  form: ReturnType<typeof useAsk>['form']
  held: Dose[]
  parts: string[]
  allowed: number | undefined
}>()
const readings = defineModel<Reading[]>('readings', { required: true })
const form = props.form // one object for good: typing into it is what asks again
defineEmits<{ reference: [uid: string]; release: [material: string] }>()

const options = computed(() => props.references.map((r) => ({ key: r.uid, name: r.name })))
const bases = computed(() => [...props.bottles.filter((b) => b.plastisol).map((b) => ({ key: b.uid, name: b.name }))])
const colours = computed(() => props.bottles.filter((b) => b.colourant || b.powder))
const rack = ref(false)
const counted = computed(() => !!props.reference?.flake?.classes?.length)
function leave(uid: string) {
  form.not = form.not.includes(uid) ? form.not.filter((u) => u !== uid) : [...form.not, uid]
}
const ground = (g: string) => (g === 'against' ? 'against the light' : `over ${g}`)
const behind = (r: Reading) => [
  { key: '', name: 'nothing behind' },
  ...props.parts.filter((p) => p !== r.name).map((p) => ({ key: p, name: `over the ${p.toLowerCase()}` })),
]
</script>

<template>
  <section class="flex flex-col gap-4 p-4" aria-label="What is asked">
    <ListPicker
      :model-value="reference?.uid ?? ''"
      label="Reference"
      :options="[{ key: '', name: 'Choose a reference…' }, ...options]"
      @update:model-value="(v: string) => $emit('reference', v)"
    />
    <fieldset v-if="readings.length" class="flex flex-col gap-2" data-testid="readings">
      <legend class="pb-1 font-semibold">What counts</legend>
      <div v-for="r in readings" :key="r.uid" class="flex flex-wrap items-center gap-2">
        <span class="h-8 w-8 shrink-0" :style="{ background: r.hex }" aria-hidden="true" />
        <label class="flex min-h-11 min-w-0 flex-1 items-center gap-2">
          <input v-if="!form.together" v-model="r.on" type="checkbox" class="h-5 w-5" />
          <span class="min-w-0 leading-tight"
            >{{ r.label }}, <span class="figure">{{ r.reading.thicknessMM }} mm</span>
            {{ ground(r.reading.ground) }}</span
          >
        </label>
        <div v-if="form.together" class="flex w-full gap-2 pl-10">
          <ListPicker v-model="r.behind" :label="`Behind ${r.label}`" :options="behind(r)" class="min-w-0 flex-1" />
          <label v-if="r.behind" class="flex items-center gap-1"
            ><input
              v-model.number.lazy="r.behindMM"
              type="number"
              min="0.1"
              max="100"
              step="0.5"
              class="field figure w-20!"
              :aria-label="`mm behind ${r.label}`"
            />mm</label
          >
        </div>
      </div>
      <ToggleChip v-if="parts.length > 1" :on="form.together" class="self-start" @click="form.together = !form.together"
        >Parts of one bait, together</ToggleChip
      >
      <ToggleChip v-if="counted && !form.together" :on="form.flake" class="self-start" @click="form.flake = !form.flake"
        >With the flake that was counted</ToggleChip
      >
    </fieldset>
    <div class="grid grid-cols-2 gap-2">
      <label
        >Volume<input v-model.lazy="form.volume" class="field figure" type="text" aria-label="Volume of the cup"
      /></label>
      <div v-if="bases.length > 1">
        Plastisol<ListPicker
          :model-value="form.plastisol || bases[0]!.key"
          label="Plastisol"
          :options="bases"
          @update:model-value="(v: string) => (form.plastisol = v)"
        />
      </div>
    </div>
    <div class="flex flex-wrap items-center gap-2" role="group" aria-label="Bottles at most">
      <span class="w-full">Bottles at most</span>
      <ToggleChip v-for="n in [1, 2, 3, 4, 5]" :key="n" :on="form.most === n" @click="form.most = n">{{
        n
      }}</ToggleChip>
    </div>
    <fieldset class="flex flex-col gap-2">
      <legend class="pb-1 font-semibold">
        Allowed<template v-if="allowed !== undefined"
          >: <span class="figure">{{ allowed }}</span> bottles</template
        >
      </legend>
      <div class="flex flex-wrap gap-2">
        <ToggleChip :on="form.colourants" @click="form.colourants = !form.colourants">Colourants</ToggleChip>
        <ToggleChip :on="form.powders" @click="form.powders = !form.powders">Powders</ToggleChip>
        <ToggleChip :on="form.noBleeding" @click="form.noBleeding = !form.noBleeding">Nothing that bleeds</ToggleChip>
        <ToggleChip :on="form.inStock" @click="form.inStock = !form.inStock">In stock</ToggleChip>
      </div>
      <input
        v-model.lazy="form.words"
        class="field"
        type="text"
        placeholder="Only with these words in name or note"
        aria-label="Only with these words"
      />
      <button type="button" class="link min-h-11 self-start" :aria-expanded="rack" @click="rack = !rack">
        {{ rack ? 'Close the rack' : 'Leave single bottles on the shelf' }}
      </button>
      <ul v-if="rack" class="max-h-64 overflow-auto rounded-lg bg-white px-3" aria-label="The rack">
        <li v-for="b in colours" :key="b.uid">
          <label class="flex min-h-9 items-center gap-2"
            ><input type="checkbox" class="h-5 w-5" :checked="!form.not.includes(b.uid)" @change="leave(b.uid)" />{{
              b.name
            }}</label
          >
        </li>
      </ul>
    </fieldset>
    <fieldset v-if="!form.together" class="flex flex-wrap items-end gap-2">
      <legend class="pb-1 font-semibold">See-through, if it matters</legend>
      <label class="flex items-center gap-1"
        ><input
          v-model.lazy="form.through"
          class="field figure w-20!"
          type="text"
          inputmode="decimal"
          aria-label="Wished see-through"
        />% at</label
      >
      <label class="flex items-center gap-1"
        ><input
          v-model.number.lazy="form.throughMM"
          class="field figure w-20!"
          type="number"
          min="0.1"
          max="100"
          aria-label="At a thickness of"
        />mm</label
      >
    </fieldset>
    <ul v-if="held.length" class="says flex flex-col" aria-label="Held">
      <li v-for="d in held" :key="d.material" class="flex items-center justify-between gap-2">
        <span
          ><span class="figure">{{ dose(d) }}</span> {{ nameOf(d.material) }} is held</span
        >
        <button type="button" class="link min-h-11" @click="$emit('release', d.material)">Let it go</button>
      </li>
    </ul>
  </section>
</template>
