<script setup lang="ts">
// A picture of a bait, flat on the surround, with its name under it.
defineProps<{ png: string; name: string; alt?: string }>()
</script>

<template>
  <figure class="flex min-w-0 flex-col gap-1">
    <img :src="png" :alt="alt ?? name" class="w-full" draggable="false" />
    <figcaption class="leading-tight">{{ name }}<slot /></figcaption>
  </figure>
</template>
