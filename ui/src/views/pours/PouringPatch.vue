<script setup lang="ts">
import { computed } from 'vue'

// A cup's colour while it is poured: a mold that fills with it as the step goes on, and the stream that fills it. Who
// prefers less motion sees how far it is, and no stream.
const props = defineProps<{ hex: string; name: string; share: number }>()
const filled = computed(() => Math.max(0, Math.min(1, props.share)))
</script>

<template>
  <div
    class="relative overflow-hidden rounded-lg border border-slate bg-fog"
    role="img"
    :aria-label="`${name}, ${Math.round(100 * filled)} % poured`"
    data-testid="pouring"
  >
    <div v-if="filled < 1" class="stream absolute inset-y-0 left-1/2 w-1.5 -translate-x-1/2" :style="{ color: hex }" />
    <div
      class="absolute inset-x-0 bottom-0 transition-[height] duration-500 ease-linear motion-reduce:transition-none"
      :style="{ background: hex, height: `${100 * filled}%` }"
    />
  </div>
</template>

<style scoped>
.stream {
  background: repeating-linear-gradient(
    currentColor 0 0.6rem,
    color-mix(in srgb, currentColor 70%, transparent) 0.8rem 1rem
  );
  background-size: 100% 1rem;
  animation: runs 350ms linear infinite;
}
@keyframes runs {
  to {
    background-position-y: 1rem;
  }
}
@media (prefers-reduced-motion: reduce) {
  .stream {
    display: none;
  }
}
</style>
