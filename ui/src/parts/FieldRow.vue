<script setup lang="ts">
import { computed } from 'vue'

import type { Field, Problem } from '@/api/client'
import ProblemNote from '@/parts/ProblemNote.vue'
import TypedField from '@/parts/TypedField.vue'
import { namesOf } from '@/use/measures'

// A measure with its name before, and what is wrong with what was typed under it.
const props = defineProps<{ field: Field; problem?: (Problem & { at: string }) | undefined }>()
defineEmits<{ typed: [key: string, text: string] }>()
const names = computed(() => namesOf(props.field.key))
const says = () => (props.problem?.at === props.field.key ? props.problem.message : undefined)
</script>

<template>
  <div class="flex flex-col" :data-field="field.key">
    <label class="flex min-h-11 items-center gap-2">
      <span class="flex-1 leading-tight"
        >{{ names.label
        }}<span v-if="field.note || names.about" class="block text-slate">{{ field.note || names.about }}</span></span
      >
      <span class="shrink-0" :class="field.value.length > 10 ? 'w-52' : 'w-32'">
        <TypedField
          figure
          :label="names.label"
          :value="field.value"
          :says="says()"
          @typed="(t) => $emit('typed', field.key, t)"
        />
      </span>
    </label>
    <ProblemNote :says="says()" />
  </div>
</template>
