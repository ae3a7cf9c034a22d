<script setup lang="ts">
import type { Property } from '@/api/client'
import ProblemNote from '@/parts/ProblemNote.vue'
import TypedField from '@/parts/TypedField.vue'

// Values of a material, each with its unit and where it comes from, to be typed over.
defineProps<{
  properties: Property[]
  origins: Record<string, string>
  saysAt: (key: string) => string | undefined
}>()
const emit = defineEmits<{ set: [key: string, typed: string] }>()
</script>

<template>
  <table class="w-full bg-white">
    <tbody>
      <tr v-for="p in properties" :key="p.key" class="border-b border-haze" :data-property="p.key">
        <td class="px-2 py-1 leading-tight">
          {{ p.label }}<span v-if="p.about" class="block text-slate">{{ p.about }}</span>
        </td>
        <td class="w-28 px-1 py-1">
          <TypedField
            figure
            :label="p.label"
            :value="p.says"
            :says="saysAt(p.key)"
            @typed="(t) => emit('set', p.key, t)"
          />
        </td>
        <td class="px-2 py-1 leading-tight">
          {{ p.unit }}<span class="block text-slate">{{ origins[p.origin] }}</span>
          <ProblemNote :says="saysAt(p.key)" />
        </td>
      </tr>
    </tbody>
  </table>
</template>
