<script setup lang="ts">
import { RadioGroup, RadioGroupOption } from '@headlessui/vue'

import { surround, surrounds } from '@/use/surround'

const greys = { medium: 'bg-[#7c7c7c]', light: 'bg-[#f0f0f0]', dark: 'bg-[#383838]' }
</script>

<template>
  <RadioGroup v-model="surround" class="flex flex-col items-center pb-3" aria-label="Surround of the colours">
    <RadioGroupOption
      v-for="s in surrounds"
      :key="s"
      :value="s"
      :aria-label="`${s} surround`"
      class="flex h-11 w-11 cursor-pointer items-center justify-center"
    >
      <span
        class="block h-6 w-6 rounded-full"
        :class="[greys[s], surround === s ? 'ring-3 ring-[#5cb3c4]' : 'ring-1 ring-white/40']"
      />
    </RadioGroupOption>
  </RadioGroup>
</template>
