<script setup lang="ts">
import { surround, surrounds } from '@/use/surround'

const greys = { medium: 'bg-[#7c7c7c]', light: 'bg-[#f0f0f0]', dark: 'bg-[#383838]' }
</script>

<template>
  <div class="flex flex-col items-center pb-3" role="radiogroup" aria-label="Surround of the colours">
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
      <span
        class="block h-6 w-6 rounded-full"
        :class="[greys[s], surround === s ? 'ring-3 ring-[#5cb3c4]' : 'ring-1 ring-white/40']"
      />
    </button>
  </div>
</template>
