<script setup lang="ts">
// Two ways to look: even colours to be judged, or the bait as it is held.
defineProps<{ judge: boolean }>()
const emit = defineEmits<{ judge: [on: boolean] }>()
</script>

<template>
  <div class="switch" role="group" aria-label="How it is drawn">
    <button type="button" :aria-pressed="judge" @click="emit('judge', true)">Judge</button>
    <button type="button" :aria-pressed="!judge" @click="emit('judge', false)">In the hand</button>
  </div>
</template>
