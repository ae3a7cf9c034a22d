<script setup lang="ts" generic="K extends string">
import { Listbox, ListboxButton, ListboxLabel, ListboxOption, ListboxOptions } from '@headlessui/vue'
import { computed } from 'vue'

const props = defineProps<{ label: string; options: { key: K; name: string }[] }>()
const model = defineModel<K>({ required: true })
const chosen = computed(() => props.options.find((o) => o.key === model.value)?.name ?? model.value)
</script>

<template>
  <Listbox v-model="model" as="div" class="relative">
    <ListboxLabel class="sr-only">{{ label }}</ListboxLabel>
    <ListboxButton class="button w-full justify-between text-left">
      <span class="truncate">{{ chosen }}</span>
      <svg viewBox="0 0 12 8" class="h-2 w-3 shrink-0" aria-hidden="true">
        <path d="M1 1l5 5 5-5" fill="none" stroke="currentColor" stroke-width="1.6" />
      </svg>
    </ListboxButton>
    <ListboxOptions
      class="absolute right-0 z-20 mt-1 max-h-96 min-w-full overflow-auto rounded-2xl bg-white py-1 shadow-xl"
    >
      <ListboxOption v-for="o in options" :key="o.key" v-slot="{ active, selected }" :value="o.key" as="template">
        <li
          class="flex min-h-11 cursor-pointer items-center px-4 whitespace-nowrap text-ink"
          :class="[active && 'bg-fog', selected && 'font-semibold']"
        >
          {{ o.name }}
        </li>
      </ListboxOption>
    </ListboxOptions>
  </Listbox>
</template>
