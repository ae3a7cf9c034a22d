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
      <DialogPanel
        class="sheet relative max-h-full w-full overflow-y-auto p-6"
        :class="wide ? 'max-w-4xl' : 'max-w-lg'"
      >
        <DialogTitle as="h2" class="pr-12">{{ title }}</DialogTitle>
        <slot />
        <!-- Last, so that what is asked for has the focus first. -->
        <button type="button" class="button round absolute top-3 right-3" aria-label="Close" @click="$emit('close')">
          ×
        </button>
      </DialogPanel>
    </div>
  </Dialog>
</template>
