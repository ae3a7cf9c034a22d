<script setup lang="ts">
import { ref } from 'vue'

import { api, ask, saysOf, type ReferenceCard, type ShopInfo } from '@/api/client'
import ListPicker from '@/parts/ListPicker.vue'
import ProblemNote from '@/parts/ProblemNote.vue'

import { useLaid } from './laid'

// What is known of a part without a photo: an instrument's Lab, its file, or words.
const props = defineProps<{ reference: ReferenceCard; shop: ShopInfo }>()
const { grounds, states } = useLaid(() => props.shop)
const emit = defineEmits<{ set: [reference: ReferenceCard] }>()
const open = ref(!props.reference.photo)
const how = ref<'lab' | 'file' | 'words'>('lab')
const ways = [
  { key: 'lab' as const, name: 'Its Lab, measured' },
  { key: 'file' as const, name: 'An instrument’s file' },
  { key: 'words' as const, name: 'In words' },
]
const name = ref('')
const lab = ref('')
const words = ref('')
const file = ref('')
const fileName = ref('')
const thickness = ref('8')
const ground = ref<ReferenceCard['pins'][number]['ground']>('white')
const state = ref<'hot' | 'fresh' | 'rested'>('rested')
const says = ref('')

async function choose(e: Event) {
  const chosen = (e.target as HTMLInputElement).files?.[0]
  file.value = chosen ? await chosen.text() : ''
  fileName.value = chosen?.name ?? ''
}
/** "42.5 -7 36,5" or "42,5; -7; 36,5": three numbers, with a point or a comma each. */
function typed(): { L: number; a: number; b: number } | undefined {
  const found = lab.value.match(/[-−]?\d+(?:[.,]\d+)?/g)?.map((v) => Number(v.replace('−', '-').replace(',', '.')))
  return found?.length === 3 ? { L: found[0]!, a: found[1]!, b: found[2]! } : undefined
}
async function keep() {
  says.value = ''
  const at = typed()
  if (how.value === 'lab' && !at) {
    says.value = 'Type three numbers: L, a and b, as in 42.5 -7 36.5.'
    return
  }
  const body = {
    name: name.value,
    thicknessMM: Number(thickness.value.replace(',', '.')) || 0,
    ground: ground.value,
    state: state.value,
    ...(how.value === 'lab' ? { lab: at } : how.value === 'words' ? { words: words.value } : { file: file.value }),
  }
  try {
    const params = { path: { reference: props.reference.uid } }
    emit('set', await ask(api.POST('/references/{reference}/readings', { params, body })))
    name.value = lab.value = words.value = ''
  } catch (e) {
    says.value = saysOf(e)
  }
}
</script>

<template>
  <section class="flex flex-col gap-3" :class="reference.photo && 'border-t border-haze pt-4'">
    <button v-if="reference.photo" type="button" class="button self-start" :aria-expanded="open" @click="open = !open">
      A part without pinning it
    </button>
    <form v-if="open" class="flex flex-col gap-3" data-testid="told" @submit.prevent="keep">
      <h2>What is known of a part</h2>
      <ListPicker v-model="how" label="How it is known" :options="ways" />
      <label class="block">
        Part
        <input
          v-model="name"
          class="field"
          :placeholder="how === 'file' ? 'As the file names it' : 'Back, belly, tail…'"
          autocomplete="off"
          data-testid="told-part"
        />
      </label>
      <label v-if="how === 'lab'" class="block">
        L, a and b under daylight (D65)
        <input v-model="lab" class="field figure" placeholder="42.5 -7 36.5" data-testid="told-lab" />
      </label>
      <label v-else-if="how === 'words'" class="block">
        What it looks like
        <input v-model="words" class="field" placeholder="dark dull olive" data-testid="told-words" />
      </label>
      <label v-else class="button cursor-pointer">
        {{ fileName || 'CGATS or CSV, with Lab or spectra' }}
        <input
          type="file"
          accept=".txt,.csv,.cgats,text/plain,text/csv"
          class="sr-only"
          aria-label="Instrument’s file"
          @change="choose"
        />
      </label>
      <div class="grid grid-cols-2 gap-2">
        <label class="block">
          Thickness there, mm
          <input v-model="thickness" class="field figure" inputmode="decimal" />
        </label>
        <div>
          <span>It lies</span>
          <ListPicker v-model="ground" label="Ground" :options="grounds" />
        </div>
      </div>
      <div>
        <span>How old the plastic is</span>
        <ListPicker v-model="state" label="State of the plastic" :options="states" />
      </div>
      <button type="submit" class="button button-main self-start">Keep this part</button>
      <ProblemNote :says="says" />
    </form>
  </section>
</template>
