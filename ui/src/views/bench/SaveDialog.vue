<script setup lang="ts">
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'

import { api, ask, Problem, type BenchState } from '@/api/client'
import ProblemNote from '@/parts/ProblemNote.vue'
import SheetDialog from '@/parts/SheetDialog.vue'

// Saves the cup as a recipe. If its recipe was saved from elsewhere meanwhile, both can be kept.
const props = defineProps<{ state: BenchState }>()
const emit = defineEmits<{ close: []; saved: [] }>()

const name = ref(props.state.recipeName ?? '')
const note = ref('')
const asNew = ref(!props.state.recipeUID)
const problem = ref<Problem>()
const busy = ref(false)
const conflict = computed(() => problem.value?.status === 409)

async function save() {
  busy.value = true
  problem.value = undefined
  const body = { cup: props.state.uid, name: name.value, note: note.value }
  try {
    if (asNew.value) await ask(api.POST('/recipes', { body }))
    else
      await ask(
        api.PUT('/recipes/{recipe}', {
          params: { path: { recipe: props.state.recipeUID ?? '' } },
          body: { ...body, seen: props.state.recipeRevision ?? 0 },
        }),
      )
    emit('saved')
  } catch (e) {
    if (!(e instanceof Problem)) throw e
    problem.value = e
    if (e.status === 409) {
      asNew.value = true
      if (name.value === props.state.recipeName) name.value = `${name.value}, second`
    }
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <SheetDialog title="Save this cup as a recipe" @close="$emit('close')">
    <form class="mt-4 flex flex-col gap-4" @submit.prevent="save">
      <ProblemNote v-if="conflict" :says="problem?.message" />
      <label class="block">
        <span>Name</span>
        <input
          v-model="name"
          class="field"
          type="text"
          autocomplete="off"
          :aria-invalid="problem?.field === 'name'"
          data-testid="recipe-name"
        />
      </label>
      <ProblemNote v-if="problem && !conflict" :says="problem.message" />
      <fieldset v-if="state.recipeUID && !conflict" class="flex flex-col">
        <label class="flex min-h-11 items-center gap-3">
          <input v-model="asNew" type="radio" :value="false" class="h-5 w-5" /> As the next version of “{{
            state.recipeName
          }}”
        </label>
        <label class="flex min-h-11 items-center gap-3">
          <input v-model="asNew" type="radio" :value="true" class="h-5 w-5" /> As a recipe of its own
        </label>
      </fieldset>
      <label v-if="state.recipeUID && !asNew" class="block">
        <span>Why this version</span>
        <input
          v-model="note"
          class="field"
          type="text"
          autocomplete="off"
          maxlength="400"
          placeholder="A touch less red"
        />
      </label>
      <div class="flex flex-wrap gap-3">
        <button type="submit" class="button button-main" :disabled="busy">
          {{ conflict ? 'Keep both' : 'Save' }}
        </button>
        <button type="button" class="button" @click="$emit('close')">Back to the cup</button>
        <RouterLink v-if="conflict" :to="`/recipes/${state.recipeUID}`" class="link self-center">See theirs</RouterLink>
      </div>
    </form>
  </SheetDialog>
</template>
