<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { computed, reactive, ref } from 'vue'

import { api, ask, problemOf, type Problem, type ProjectCard } from '@/api/client'
import ProblemNote from '@/parts/ProblemNote.vue'
import SheetDialog from '@/parts/SheetDialog.vue'
import ToggleChip from '@/parts/ToggleChip.vue'
import { useShelf } from '@/use/shop'

// The plastic and the bottles of a project.
const props = defineProps<{ project: ProjectCard }>()
const emit = defineEmits<{ close: [] }>()
const client = useQueryClient()
const { bottles } = useShelf()
const colours = computed(() => bottles.value.filter((b) => (b.colourant || b.powder) && !b.retired))
const typed = reactive({
  name: props.project.name,
  notes: props.project.notes ?? '',
  volume: props.project.volume.typed,
  most: props.project.most,
  noBleeding: props.project.allow.noBleeding ?? false,
  inStock: props.project.allow.inStock ?? false,
  not: [...(props.project.allow.not ?? [])],
})
const problem = ref<Problem>()
const turn = (uid: string) =>
  typed.not.includes(uid) ? typed.not.splice(typed.not.indexOf(uid), 1) : typed.not.push(uid)

async function keep() {
  problem.value = undefined
  try {
    await ask(
      api.PATCH('/projects/{project}', {
        params: { path: { project: props.project.uid } },
        body: {
          seen: props.project.revision,
          name: typed.name,
          notes: typed.notes,
          volume: typed.volume,
          most: typed.most,
          allow: { ...props.project.allow, noBleeding: typed.noBleeding, inStock: typed.inStock, not: typed.not },
        },
      }),
    )
    await client.invalidateQueries({ queryKey: ['projects'] })
    emit('close')
  } catch (e) {
    problem.value = problemOf(e)
    if (problem.value.status === 409) await client.invalidateQueries({ queryKey: ['projects'] })
  }
}
</script>

<template>
  <SheetDialog wide title="The project" @close="emit('close')">
    <form class="mt-4 flex flex-col gap-4" @submit.prevent="keep">
      <div class="grid gap-4 sm:grid-cols-2">
        <label class="block">Name<input v-model="typed.name" type="text" class="field" autocomplete="off" /></label>
        <label class="block"
          >Plastisol for a test cup<input v-model="typed.volume" type="text" class="field figure" autocomplete="off"
        /></label>
      </div>
      <label class="block">Notes<textarea v-model="typed.notes" rows="2" class="field py-2" /></label>
      <div class="flex flex-wrap items-center gap-2">
        <span>Bottles in a cup, at most</span>
        <ToggleChip v-for="n in 6" :key="n" :on="typed.most === n" class="figure" @click="typed.most = n">{{
          n
        }}</ToggleChip>
      </div>
      <div class="flex flex-wrap items-center gap-2">
        <ToggleChip :on="typed.noBleeding" @click="typed.noBleeding = !typed.noBleeding">No dye that runs</ToggleChip>
        <ToggleChip :on="typed.inStock" @click="typed.inStock = !typed.inStock">Only what is in stock</ToggleChip>
      </div>
      <fieldset>
        <legend>Bottles that may be used; tap one to leave it on the shelf</legend>
        <div class="mt-1 flex max-h-64 flex-wrap gap-1 overflow-y-auto">
          <ToggleChip v-for="b in colours" :key="b.uid" :on="!typed.not.includes(b.uid)" @click="turn(b.uid)">{{
            b.name
          }}</ToggleChip>
        </div>
      </fieldset>
      <ProblemNote :says="problem?.message" />
      <div class="flex gap-3">
        <button type="submit" class="button button-main">Keep it</button>
        <button type="button" class="button" @click="emit('close')">Leave it</button>
      </div>
    </form>
  </SheetDialog>
</template>
