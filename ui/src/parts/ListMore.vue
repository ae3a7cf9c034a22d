<script setup lang="ts">
// The way to the next part of a list; nothing where it is all there.
defineProps<{ more: boolean; reading: boolean }>()
defineEmits<{ next: [] }>()
</script>

<template>
  <button v-if="more" type="button" class="button self-start" :disabled="reading" @click="$emit('next')">
    {{ reading ? 'Reading…' : 'Show more' }}
  </button>
</template>
