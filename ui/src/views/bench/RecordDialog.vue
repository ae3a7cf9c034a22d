<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, reactive, ref, watch } from 'vue'
import { useRouter } from 'vue-router'

import { api, ask, problemOf, type Problem, type BenchState, type PhotoInfo } from '@/api/client'
import ListPicker from '@/parts/ListPicker.vue'
import PhotoDrop from '@/parts/PhotoDrop.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import SheetDialog from '@/parts/SheetDialog.vue'
import { useProjects } from '@/use/lists'

// Records a test batch of the cup on the bench: what went in, and how hot it was, the bench knows.
const props = defineProps<{ state: BenchState; mold: string }>()
const emit = defineEmits<{ close: [] }>()
const client = useQueryClient()
const router = useRouter()
const today = () => new Date(Date.now() - new Date().getTimezoneOffset() * 60_000).toISOString().slice(0, 10)
const typed = reactive({ pouredOn: today(), verdict: '', rested: '0 h', photo: '' })
const { items: projects } = useProjects()
const project = ref(props.state.cup.for ?? '')
const part = ref(props.state.cup.part ?? '')
const choices = computed(() => [
  { key: '', name: 'For no project' },
  ...(projects.value ?? []).map((p) => ({ key: p.uid, name: p.name })),
])
const parts = computed(
  () => projects.value?.find((p) => p.uid === project.value)?.parts.map((p) => ({ key: p.name, name: p.name })) ?? [],
)
watch(parts, (all) => {
  if (all.length && !all.some((p) => p.key === part.value)) part.value = all[0]!.key
})
const { data: log } = useQuery({
  queryKey: ['cup-log', () => props.state.uid, () => props.state.head],
  queryFn: () => ask(api.GET('/cups/{cup}/log', { params: { path: { cup: props.state.uid } } })),
})
const problem = ref<Problem>()
const busy = ref(false)
const went = computed(() => {
  const n = log.value?.additions.length ?? 0
  const heats = props.state.cup.heats?.length ?? 0
  return [
    `${props.state.cup.doses.length} things in ${props.state.cup.volume.typed}`,
    n > 0 ? (n === 1 ? 'one addition counted' : `${n} additions counted`) : '',
    heats > 0 ? (heats === 1 ? 'heated once' : `heated ${heats} times`) : '',
  ]
    .filter(Boolean)
    .join(', ')
})

async function record() {
  busy.value = true
  problem.value = undefined
  try {
    const joined = project.value ? { project: project.value, part: part.value } : {}
    await ask(
      api.POST('/cups/{cup}/batch', {
        params: { path: { cup: props.state.uid } },
        body: { ...typed, ...joined, mold: props.mold },
      }),
    )
    await client.invalidateQueries({ queryKey: ['batches'] })
    await client.invalidateQueries({ queryKey: ['projects'] })
    await router.push(project.value ? `/projects/${project.value}` : '/batches')
  } catch (e) {
    problem.value = problemOf(e)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <SheetDialog title="Record a test batch" @close="emit('close')">
    <form class="mt-4 flex flex-col gap-4" @submit.prevent="record">
      <p class="text-slate">{{ went }}: that is known here and need not be typed again.</p>
      <ListPicker v-model="project" label="Project" :options="choices" />
      <ListPicker v-if="parts.length" v-model="part" label="Part" :options="parts" />
      <div class="grid grid-cols-2 gap-3">
        <label class="block"
          >Poured on<input
            v-model="typed.pouredOn"
            type="date"
            class="field figure"
            :aria-invalid="problem?.field === 'pouredOn'"
        /></label>
        <label class="block"
          >Rested so far<input
            v-model="typed.rested"
            type="text"
            class="field figure"
            autocomplete="off"
            placeholder="24 h, 3 days"
            :aria-invalid="problem?.field === 'rested'"
        /></label>
      </div>
      <label class="block"
        >Verdict, in your own words<textarea v-model="typed.verdict" rows="2" class="field py-2" />
      </label>
      <PhotoDrop word="Add a photo of the batch" @photo="(p: PhotoInfo) => (typed.photo = p.uid)" />
      <img
        v-if="typed.photo"
        :src="`/api/v1/photos/${typed.photo}`"
        alt="Photo of this batch"
        class="h-32 object-contain"
      />
      <ProblemNote :says="problem?.message" />
      <div class="flex gap-3">
        <button type="submit" class="button button-main" :disabled="busy">Record it</button>
        <button type="button" class="button" @click="emit('close')">Leave it</button>
      </div>
    </form>
  </SheetDialog>
</template>
