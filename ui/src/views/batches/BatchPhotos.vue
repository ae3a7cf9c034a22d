<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'

import { api, ask, saysOf, type BatchCard, type PhotoInfo } from '@/api/client'
import PhotoDrop from '@/parts/PhotoDrop.vue'
import ProblemNote from '@/parts/ProblemNote.vue'

// The photos of a batch: the one that it was recorded with, and those that come later, as it rests and as it is fished.
const props = defineProps<{ batch: BatchCard }>()
const client = useQueryClient()
const says = ref<string>()
async function act(work: Promise<unknown>) {
  says.value = undefined
  try {
    await work
    await client.invalidateQueries()
  } catch (e) {
    says.value = saysOf(e)
  }
}
const path = () => ({ batch: props.batch.uid })
const add = (p: PhotoInfo) =>
  act(ask(api.POST('/batches/{batch}/photos', { params: { path: path() }, body: { photo: p.uid } })))
const takeOut = (photo: string) =>
  act(ask(api.DELETE('/batches/{batch}/photos/{photo}', { params: { path: { ...path(), photo } } })))
</script>

<template>
  <div class="flex flex-wrap gap-2 sm:shrink-0 sm:flex-col" data-photos>
    <div v-for="(p, i) in batch.photos" :key="p" class="relative">
      <a :href="`/api/v1/photos/${p}`">
        <img :src="`/api/v1/photos/${p}`" :alt="`Photo ${i + 1} of the batch`" class="h-24 w-32 object-cover" />
      </a>
      <button
        v-if="p !== batch.photo"
        type="button"
        class="button round absolute top-0 right-0"
        :aria-label="`Take out photo ${i + 1}`"
        @click="takeOut(p)"
      >
        ×
      </button>
    </div>
    <PhotoDrop small :word="batch.photos.length ? 'Another photo' : 'Add a photo'" @photo="add" />
    <ProblemNote :says="says" />
  </div>
</template>
