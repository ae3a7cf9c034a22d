<script setup lang="ts">
// The places of the work, drawn by one hand: a 24-unit box, one line of 1.6.
defineProps<{ of: string }>()
const paths: Record<string, string> = {
  references: 'M12 4a8 8 0 1 0 0 16a8 8 0 1 0 0-16M12 9a3 3 0 1 0 0 6a3 3 0 1 0 0-6',
  match: 'M3.5 7h7v10h-7zM13.5 7h7v10h-7z',
  bench: 'M5 5h14l-2 14H7zM6 10h12',
  baits: 'M3 12c3-5 9-5.5 13-1.5l5-3.5v10l-5-3.500c-4 4-10 3.500-13-1.500zM7.500 11h.01',
  projects: 'M4 19h16M5 15l4-4 3.500 2.500L20 5',
  pours: 'M4 5h9l-1.200 8H5.200zM13 6.500h2.500a2 2 0 0 1 0 5H12.300M18.500 12v4M18.500 20h.01M10 17v3M8 20h6',
  recipes: 'M6 4h12v16H6zM9 8h6M9 12h6M9 16h3',
  shelf: 'M6.500 20v-9l1.500-3V4h2v4l1.500 3v9zM14 20v-7l1-2V8h2v3l1.500 2v7zM4 20h16.500',
}
</script>

<template>
  <svg viewBox="0 0 24 24" class="h-6 w-6" aria-hidden="true">
    <path
      :d="paths[of]"
      fill="none"
      stroke="currentColor"
      stroke-width="1.6"
      stroke-linejoin="round"
      stroke-linecap="round"
    />
  </svg>
</template>
