<script setup lang="ts">
// A judged colour: flat, square-cornered, on the surround. It never stands alone: give it a name or a figure beside.
defineProps<{ hex: string; name: string }>()
</script>

<template>
  <div :style="{ background: hex }" role="img" :aria-label="name" />
</template>
