<script setup lang="ts">
// The wanted colour and what comes of it, edge to edge: a seam that can't be seen is a match.
defineProps<{ wanted: string; got: string; name: string }>()
</script>

<template>
  <div class="flex" role="img" :aria-label="`${name}: wanted, and as it would be`" :title="name">
    <div class="flex-1" :style="{ background: wanted }" data-testid="wanted" :data-hex="wanted" />
    <div class="flex-1" :style="{ background: got }" data-testid="is" :data-hex="got" />
  </div>
</template>
