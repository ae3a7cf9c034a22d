<script setup lang="ts">
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'

// The one frame of every dialog.
defineProps<{ title: string; wide?: boolean }>()
defineEmits<{ close: [] }>()
</script>

<template>
  <Dialog :open="true" class="relative z-40" @close="$emit('close')">
    <div class="fixed inset-0 bg-black/40" aria-hidden="true" />
    <div class="fixed inset-0 flex items-center justify-center p-4">
      <DialogPanel class="sheet max-h-full w-full overflow-y-auto p-6" :class="wide ? 'max-w-4xl' : 'max-w-lg'">
        <div class="flex items-start gap-3">
          <DialogTitle as="h2" class="flex-1">{{ title }}</DialogTitle>
          <button type="button" class="button round -mt-2 -mr-2" aria-label="Close" @click="$emit('close')">×</button>
        </div>
        <slot />
      </DialogPanel>
    </div>
  </Dialog>
</template>
