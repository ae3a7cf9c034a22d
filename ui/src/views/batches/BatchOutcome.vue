<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'

import { api, ask, saysOf, type BatchCard, type Outcome } from '@/api/client'
import ListPicker from '@/parts/ListPicker.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import SheetDialog from '@/parts/SheetDialog.vue'
import ToggleChip from '@/parts/ToggleChip.vue'
import { useShapes, useShop } from '@/use/shop'

// How a batch was poured and what came of it besides its colour; why it went wrong, where it did; and the way to a recipe of its own.
const props = defineProps<{ batch: BatchCard }>()
const client = useQueryClient()
const router = useRouter()
const { data: shop } = useShop()
const { data: shapes } = useShapes()
const asking = ref(false)
const naming = ref(false)
const name = ref('')
const says = ref<string>()
const draft = ref<Outcome>({})
const heat = ref('') // as typed; empty leaves what is known
const left = ref('')
type Test = 'droop' | 'pull' | 'float' | 'fate'

function begin() {
  says.value = undefined
  draft.value = { ...props.batch.outcome, defects: [...(props.batch.outcome.defects ?? [])] }
  heat.value = ''
  left.value = ''
  asking.value = true
}
type Defect = NonNullable<Outcome['defects']>[number]
function turn(d: Defect) {
  const list = (draft.value.defects ??= [])
  if (list.includes(d)) list.splice(list.indexOf(d), 1)
  else list.push(d)
}
const choose = (test: Test, key: string) => {
  const o = draft.value as Record<Test, string | undefined>
  if (o[test] === key) delete o[test]
  else o[test] = key
}
const mold = computed({ get: () => draft.value.mold ?? '', set: (m) => (draft.value.mold = m) })
async function keep() {
  says.value = undefined
  const body = { ...draft.value, heat: heat.value, left: left.value }
  if (!body.mold) delete body.mold
  try {
    await ask(api.PUT('/batches/{batch}/outcome', { params: { path: { batch: props.batch.uid } }, body }))
    await client.invalidateQueries({ queryKey: ['batches'] })
    await client.invalidateQueries({ queryKey: ['projects'] })
    asking.value = false
  } catch (e) {
    says.value = saysOf(e)
  }
}
async function toRecipe() {
  says.value = undefined
  try {
    const made = await ask(
      api.POST('/batches/{batch}/recipe', { params: { path: { batch: props.batch.uid } }, body: { name: name.value } }),
    )
    await client.invalidateQueries({ queryKey: ['recipes'] })
    await router.push(`/recipes/${made.uid}`)
  } catch (e) {
    says.value = saysOf(e)
  }
}
</script>

<template>
  <div class="contents" data-testid="outcome">
    <p v-if="batch.came" class="order-first basis-full first-letter:uppercase">{{ batch.came }}.</p>
    <div v-for="d in batch.why" :key="d.defect" class="order-first basis-full bg-mist p-3" data-defect>
      <p class="font-semibold first-letter:uppercase">{{ d.name }}</p>
      <ol class="mt-1 flex flex-col gap-1">
        <li v-for="c in d.causes" :key="c.says" class="flex gap-3 leading-tight">
          <span class="figure w-11 shrink-0 text-right">{{ (100 * c.share).toFixed(0) }} %</span>
          <span
            >{{ c.says }} <span class="text-slate">{{ c.do }}</span></span
          >
        </li>
      </ol>
    </div>
    <button type="button" class="button" data-testid="say-outcome" @click="begin">How did it come out?</button>
    <button type="button" class="button" @click="naming = true">Save what went in as a recipe</button>

    <SheetDialog v-if="asking" title="How did it come out?" @close="asking = false">
      <form class="mt-4 flex flex-col gap-4" @submit.prevent="keep">
        <fieldset>
          <legend>What went wrong</legend>
          <div class="mt-1 flex flex-wrap gap-1">
            <ToggleChip
              v-for="d in shop?.defects"
              :key="d.key"
              :on="!!draft.defects?.includes(d.key as Defect)"
              @click="turn(d.key as Defect)"
              >{{ d.name }}</ToggleChip
            >
          </div>
        </fieldset>
        <fieldset v-for="t in shop?.tests" :key="t.key">
          <legend>{{ t.asks }}</legend>
          <div class="mt-1 flex flex-wrap gap-1">
            <ToggleChip
              v-for="(k, i) in t.keys"
              :key="k"
              :on="draft[t.key as Test] === k"
              @click="choose(t.key as Test, k)"
              >{{ t.values[i] }}</ToggleChip
            >
          </div>
        </fieldset>
        <div class="grid grid-cols-2 gap-3">
          <label class="block"
            >How hot it was poured<input
              v-model="heat"
              type="text"
              class="field figure"
              autocomplete="off"
              :placeholder="batch.outcome.heatsC?.length ? 'as it is known' : '350F or 177 °C'"
          /></label>
          <label class="block"
            >Left in the cup<input
              v-model="left"
              type="text"
              class="field figure"
              autocomplete="off"
              :placeholder="batch.outcome.leftML ? 'as it is known' : '60 ml'"
          /></label>
        </div>
        <ListPicker
          v-model="mold"
          label="Mold"
          :options="[{ key: '', name: 'Which mold? Not said' }, ...(shapes ?? [])]"
        />
        <ProblemNote :says="says" />
        <div class="flex gap-3">
          <button type="submit" class="button button-main">Keep it</button>
          <button type="button" class="button" @click="asking = false">Leave it</button>
        </div>
      </form>
    </SheetDialog>
    <SheetDialog v-if="naming" title="Save what went in as a recipe" @close="naming = false">
      <form class="mt-4 flex flex-col gap-4" @submit.prevent="toRecipe">
        <label class="block">Name<input v-model="name" type="text" class="field" autocomplete="off" /></label>
        <ProblemNote :says="says" />
        <div class="flex gap-3">
          <button type="submit" class="button button-main">Save it</button>
          <button type="button" class="button" @click="naming = false">Leave it</button>
        </div>
      </form>
    </SheetDialog>
  </div>
</template>
