<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { useRouter } from 'vue-router'

import { api, ask, saysOf, type PhotoInfo } from '@/api/client'
import EmptyPlace from '@/parts/EmptyPlace.vue'
import ListMore from '@/parts/ListMore.vue'
import PhotoDrop from '@/parts/PhotoDrop.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import ReferenceTile from '@/parts/ReferenceTile.vue'
import ToggleChip from '@/parts/ToggleChip.vue'
import { useReferences } from '@/use/lists'

const router = useRouter()
const away = ref(false)
const client = useQueryClient()
const { items: references, more, reading, next } = useReferences(true, () => away.value)
const says = ref('')

const told = ref('')
const make = (photo: PhotoInfo, fileName: string) =>
  begin(fileName.replace(/\.[^.]*$/, '').slice(0, 80) || 'Reference', photo.uid)
async function begin(name: string, photo: string) {
  says.value = ''
  try {
    const made = await ask(api.POST('/references', { body: { name, photo } }))
    await client.invalidateQueries({ queryKey: ['references'] })
    await router.push(`/references/${made.uid}`)
  } catch (e) {
    says.value = saysOf(e)
  }
}
</script>

<template>
  <section class="surround flex-1 p-4">
    <div class="flex items-center gap-3 pb-3">
      <h1 class="mr-auto">References</h1>
      <ToggleChip :on="away" @click="away = !away">What was put away</ToggleChip>
    </div>
    <PhotoDrop class="max-w-2xl text-ink" word="Drop a photo of the bait here, or choose one" @photo="make" />
    <form class="flex max-w-2xl items-end gap-2 pt-3" @submit.prevent="begin(told, '')">
      <label class="flex-1">
        Or begin without a photo: a measured colour, or what you have in mind
        <input v-model="told" class="field text-ink" autocomplete="off" data-testid="told-name" />
      </label>
      <button type="submit" class="button text-ink">Begin</button>
    </form>
    <ProblemNote class="mt-3 text-ink" :says="says" />
    <ul class="grid gap-4 pt-4 sm:grid-cols-2 lg:grid-cols-3">
      <li v-for="r in references" :key="r.uid">
        <ReferenceTile :reference="r" :to="`/references/${r.uid}`" />
      </li>
    </ul>
    <p v-if="references && !references.length && away" class="pt-4">No reference was put away.</p>
    <EmptyPlace v-else-if="references && !references.length" class="pt-2" picture="target">
      Pin the parts that are to be matched: each pin is read with the light of the photo undone, and becomes a target.
    </EmptyPlace>
    <ListMore class="mt-4 text-ink" :more="more" :reading="reading" @next="next" />
  </section>
</template>
