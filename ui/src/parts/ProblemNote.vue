<script setup lang="ts">
defineProps<{ says?: string | undefined }>()
</script>

<template>
  <p v-if="says" class="says" role="alert">{{ says }}</p>
</template>
