<script setup lang="ts">
import type { useCup } from '@/use/cup'

// Taps that the program could not take: said, kept, and out of the way of the others.
defineProps<{ cup: Pick<ReturnType<typeof useCup>, 'aside' | 'again' | 'letGo'> }>()
</script>

<template>
  <p
    v-if="cup.aside.value.length"
    class="says flex flex-wrap items-center gap-3 text-ink"
    role="alert"
    data-testid="set-aside"
  >
    <span class="flex-1">
      {{ cup.aside.value.length === 1 ? 'One of your taps' : `${cup.aside.value.length} of your taps` }} could not be
      taken and {{ cup.aside.value.length === 1 ? 'is' : 'are' }} kept here. The others went on.
    </span>
    <button type="button" class="button px-3" @click="cup.again">Try again</button>
    <button type="button" class="button px-3" @click="cup.letGo">Leave out</button>
  </p>
</template>
