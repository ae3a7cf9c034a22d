<script setup lang="ts">
import { computed, ref } from 'vue'

import { api, ask, saysOf, type MoldPage, type PhotoInfo } from '@/api/client'
import PhotoDrop from '@/parts/PhotoDrop.vue'
import ProblemNote from '@/parts/ProblemNote.vue'

// How this mold splits layers, learned from a photo of a shot: nose, tail, then places of the boundary.
const props = defineProps<{ mold: MoldPage }>()
const emit = defineEmits<{ fitted: [mold: MoldPage] }>()
const photo = ref<PhotoInfo>()
const marks = ref<[number, number][]>([])
const says = ref('')
const asks = computed(() => {
  if (marks.value.length === 0) return 'Point at the nose.'
  if (marks.value.length === 1) return 'Point at the end of the tail.'
  return `Now along the boundary, from nose to tail: ${Math.max(0, marks.value.length - 2)} of 5 places or more.`
})
function mark(e: MouseEvent) {
  const box = (e.currentTarget as HTMLElement).getBoundingClientRect()
  const { widthPX, heightPX } = photo.value!
  marks.value.push([((e.clientX - box.left) / box.width) * widthPX, ((e.clientY - box.top) / box.height) * heightPX])
}
async function fit() {
  const [nose, tail, ...rest] = marks.value
  try {
    emit(
      'fitted',
      await ask(
        api.POST('/molds/{mold}/fit', {
          params: { path: { mold: props.mold.uid } },
          body: { seen: props.mold.revision, baits: [{ nose: nose!, tail: tail!, marks: rest }] },
        }),
      ),
    )
    photo.value = undefined
    marks.value = []
    says.value = ''
  } catch (e) {
    says.value = saysOf(e)
  }
}
</script>

<template>
  <section class="flex flex-col gap-2">
    <h2>Learn it from a shot</h2>
    <p class="text-slate">A photo of a bait of two colours from this mold, from the side, its back up.</p>
    <PhotoDrop v-if="!photo" word="Photo of a shot bait" @photo="(p) => (photo = p)" />
    <template v-else>
      <div class="relative cursor-crosshair" data-testid="shot" @click="mark">
        <img :src="`/api/v1/photos/${photo.uid}`" alt="The shot bait" class="w-full" draggable="false" />
        <span
          v-for="(m, i) in marks"
          :key="i"
          class="absolute h-3 w-3 -translate-x-1/2 -translate-y-1/2 border-2 border-white bg-ink"
          :style="{ left: `${(100 * m[0]) / photo.widthPX}%`, top: `${(100 * m[1]) / photo.heightPX}%` }"
        />
      </div>
      <p>{{ asks }}</p>
      <div class="flex gap-2">
        <button type="button" class="button" :disabled="!marks.length" @click="marks.pop()">Take back</button>
        <button type="button" class="button button-main" :disabled="marks.length < 3" @click="fit">Fit</button>
        <button type="button" class="button" @click="photo = undefined">Leave it</button>
      </div>
    </template>
    <ProblemNote :says="says" />
  </section>
</template>
