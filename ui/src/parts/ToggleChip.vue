<script setup lang="ts">
// One of several that can be chosen; the chosen one is dark, so that it shows without colour.
defineProps<{ on: boolean }>()
</script>

<template>
  <button type="button" class="button px-3" :aria-pressed="on"><slot /></button>
</template>
