<script setup lang="ts">
// A figure that is slid to, with its name before and the figure after.
defineProps<{ label: string; value: number; min: number; max: number; step: number; says: string; about?: string }>()
defineEmits<{ slide: [value: string] }>()
</script>

<template>
  <label class="flex min-h-11 min-w-0 flex-1 items-center gap-2">
    <span class="whitespace-nowrap">{{ label }}</span>
    <input
      type="range"
      class="h-11 w-0 min-w-16 flex-1 accent-press"
      :min="min"
      :max="max"
      :step="step"
      :aria-label="about ?? label"
      :aria-valuetext="says"
      :value="value"
      @input="$emit('slide', ($event.target as HTMLInputElement).value)"
    />
    <span class="figure min-w-9 text-right whitespace-nowrap">{{ says }}</span>
  </label>
</template>
