<script setup lang="ts">
import { computed, ref } from 'vue'

import { api, ask, saysOf, type Schemas } from '@/api/client'
import ListPicker from '@/parts/ListPicker.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import SheetDialog from '@/parts/SheetDialog.vue'

// One cup of plastic: how many of which bait? What there is, worked backwards, mold by mold.
const props = defineProps<{ choices: { key: string; name: string }[] }>()
defineEmits<{ close: [] }>()
const chosen = ref('')
const from = computed({
  get: () => chosen.value || (props.choices.find((c) => c.key.startsWith('recipe')) ?? props.choices[0])?.key || '',
  set: (v) => (chosen.value = v),
})
const volume = ref('1 cup')
const says = ref('')
const list = ref<Schemas['HowMany'][]>()
const busy = ref(false)
const source = computed(() => {
  const [kind, uid] = from.value.split(' ')
  return kind && uid ? { [kind]: uid } : {}
})
async function count() {
  says.value = ''
  busy.value = true
  try {
    list.value = (await ask(api.POST('/pours/how-many', { body: { ...source.value, volume: volume.value } }))).molds
  } catch (e) {
    list.value = undefined
    says.value = saysOf(e)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <SheetDialog title="How many does it give?" @close="$emit('close')">
    <form class="mt-4 flex flex-col gap-4" @submit.prevent="count">
      <ListPicker v-model="from" label="What is poured" :options="choices" />
      <label class="block">So much plastic, finished<input v-model="volume" type="text" class="field figure" /></label>
      <ProblemNote :says="says" />
      <button type="submit" class="button button-main self-start" :disabled="busy">Work it out</button>
      <table v-if="list" class="w-full">
        <caption class="pb-1 text-left text-slate">
          Each mold by itself, with its sprues, plugs and what stays in the cup.
        </caption>
        <tbody>
          <tr v-for="m in list" :key="m.mold" class="border-t border-haze">
            <td class="py-2">{{ m.name }}</td>
            <td class="figure py-2 text-right text-xl font-semibold">{{ m.baits || '–' }}</td>
            <td class="figure py-2 pl-4 text-right text-slate">{{ m.says || `of ${m.inML.toFixed(0)} ml` }}</td>
          </tr>
        </tbody>
      </table>
    </form>
  </SheetDialog>
</template>
