<script setup lang="ts">
import { ref } from 'vue'

import { api, ask, bytesOf, Problem, type PhotoInfo } from '@/api/client'

// Takes a photo by drop, by file or by the camera of a tablet, and hands over what was kept.
defineProps<{ word: string; small?: boolean }>()
const emit = defineEmits<{ photo: [kept: PhotoInfo, fileName: string] }>()
const over = ref(false)
const busy = ref(false)
const says = ref('')

async function take(file: File | undefined) {
  over.value = false
  if (!file || busy.value) return
  busy.value = true
  says.value = ''
  try {
    emit('photo', await ask(api.POST('/photos', bytesOf(file))), file.name)
  } catch (e) {
    says.value =
      e instanceof Problem ? (e.unreachable ? 'Cloudburst does not answer. Try again.' : e.message) : String(e)
  } finally {
    busy.value = false
  }
}
function chosen(e: Event) {
  const input = e.target as HTMLInputElement
  void take(input.files?.[0])
  input.value = ''
}
</script>

<template>
  <div>
    <label
      class="flex cursor-pointer flex-col items-center justify-center gap-1 rounded-2xl border border-dashed border-slate text-center"
      :class="[over ? 'bg-haze' : 'bg-mist', small ? 'min-h-11 w-32' : 'min-h-24 px-4 py-3']"
      @dragover.prevent="over = true"
      @dragleave="over = false"
      @drop.prevent="take($event.dataTransfer?.files[0])"
    >
      <span class="link font-medium">{{ busy ? 'Taking it in…' : word }}</span>
      <span v-if="!small" class="text-slate"
        >JPEG, PNG or WebP, up to 20 MB. Position and camera data are removed.</span
      >
      <input type="file" accept="image/jpeg,image/png,image/webp" class="sr-only" :aria-label="word" @change="chosen" />
    </label>
    <p v-if="says" class="says mt-2" role="alert">{{ says }}</p>
  </div>
</template>
