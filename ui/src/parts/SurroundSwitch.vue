<script setup lang="ts">
import { surround, surrounds } from '@/use/surround'

const greys = { medium: 'bg-cloud', light: 'bg-[#d6d6d6]', dark: 'bg-[#262626]' }
</script>

<template>
  <div class="flex" role="radiogroup" aria-label="Surround of the colours">
    <button
      v-for="s in surrounds"
      :key="s"
      type="button"
      role="radio"
      :aria-checked="surround === s"
      :aria-label="`${s} surround`"
      class="flex h-11 w-11 items-center justify-center"
      @click="surround = s"
    >
      <span class="block h-7 w-7 border-ink" :class="[greys[s], surround === s ? 'border-3' : 'border']" />
    </button>
  </div>
</template>
