<script setup lang="ts">
import { computed, ref, watch } from 'vue'

import { api, ask, Problem, saysOf, type RunPage } from '@/api/client'
import ListPicker from '@/parts/ListPicker.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import SheetDialog from '@/parts/SheetDialog.vue'

// What came of a run: good ones, spoiled ones with the reason, what is left in which cup.
const props = defineProps<{ page: RunPage }>()
const emit = defineEmits<{ close: []; ended: [page: RunPage] }>()
const typedGood = ref<string>()
const spoiled = ref<{ why: string; count: string }[]>([])
const left = ref(props.page.cooks.map(() => ''))
const note = ref('')
const says = ref('')
const busy = ref(false)
const whys = computed(() => props.page.whys.map((w) => ({ key: w.name, name: w.name })))
const whole = (typed: string) => (/^\s*\d+\s*$/.test(typed) ? Number(typed) : -1)
// What nobody typed: all that were filled but the spoiled ones.
const good = computed({
  get: () =>
    typedGood.value ?? String(props.page.made - spoiled.value.reduce((sum, s) => sum + Math.max(0, whole(s.count)), 0)),
  set: (v) => (typedGood.value = v),
})
const doubted = ref(false)
watch([typedGood, spoiled], () => (doubted.value = false), { deep: true })
const lacking = computed(() => Math.max(0, props.page.asked - Math.max(0, whole(good.value))))

function addWhy() {
  spoiled.value.push({ why: whys.value[0]?.key ?? 'spoiled', count: '1' })
}
async function end() {
  busy.value = true
  says.value = ''
  try {
    emit(
      'ended',
      await ask(
        api.POST('/pours/{pour}/run/end', {
          params: { path: { pour: props.page.uid } },
          body: {
            good: whole(good.value),
            sure: doubted.value,
            spoiled: spoiled.value.map((s) => ({ why: s.why, count: whole(s.count) })),
            left: left.value,
            note: note.value,
            atMS: Date.now(),
          },
        }),
      ),
    )
  } catch (e) {
    says.value = saysOf(e)
    doubted.value = e instanceof Problem && e.asks
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <SheetDialog wide title="What came of it" @close="$emit('close')">
    <form class="mt-4 flex flex-col gap-5" @submit.prevent="end">
      <label class="flex items-center gap-3 text-lg"
        >Good baits<input v-model="good" class="field figure w-28! text-2xl" type="text" inputmode="numeric" /><span
          class="text-slate"
          >of {{ page.made }} that were filled</span
        ></label
      >
      <div class="flex flex-col gap-2">
        <div v-for="(s, i) in spoiled" :key="i" class="flex flex-wrap items-center gap-3">
          <input
            v-model="s.count"
            class="field figure w-20!"
            type="text"
            inputmode="numeric"
            :aria-label="`How many, ${i + 1}`"
          />
          <ListPicker v-model="s.why" label="Why they are spoiled" :options="whys" class="w-64" />
          <button type="button" class="link min-h-11" @click="spoiled.splice(i, 1)">Leave it out</button>
        </div>
        <button type="button" class="button self-start" @click="addWhy">Some are spoiled</button>
      </div>
      <div class="flex flex-wrap gap-4">
        <label v-for="(c, i) in page.cooks" :key="c.letter" class="w-44"
          >Left in cup {{ c.letter }}, {{ c.name
          }}<input v-model="left[i]" class="field figure" type="text" placeholder="nobody looked"
        /></label>
      </div>
      <label class="block">What else there is to say<textarea v-model="note" class="field min-h-20 py-2" /></label>
      <p>
        The shelf goes down by what went into the cups, and each colour is written down as a batch.
        <template v-if="lacking">{{ lacking }} are lacking then; the rest can be planned from what is left.</template>
      </p>
      <ProblemNote :says="says" />
      <div class="flex gap-3">
        <button type="submit" class="button button-main" :disabled="busy">End the run</button>
        <button type="button" class="button" @click="$emit('close')">Not yet</button>
      </div>
    </form>
  </SheetDialog>
</template>
