<script setup lang="ts">
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/vue'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'

import type { BenchState } from '@/api/client'
import ColourPatch from '@/parts/ColourPatch.vue'
import KeepMenu from '@/parts/KeepMenu.vue'
import ListMore from '@/parts/ListMore.vue'
import ToggleChip from '@/parts/ToggleChip.vue'
import { useCups } from '@/use/lists'

// Every cup on the bench, the one that was touched last first, and those that were put away.
const props = defineProps<{ state: BenchState; name: string }>()
const emit = defineEmits<{ renamed: [] }>()
const router = useRouter()
const away = ref(false)
const {
  items: cups,
  more,
  reading,
  next,
} = useCups(
  () => props.state.head,
  () => away.value,
)
const others = computed(() => (cups.value ?? []).filter((c) => c.uid !== props.state.uid))
</script>

<template>
  <div class="flex min-w-0 flex-wrap items-center gap-x-3">
    <Popover v-slot="{ close }" class="relative min-w-0">
      <PopoverButton class="flex min-h-11 max-w-full items-center gap-2" :aria-label="`${name}: another cup`">
        <h1 class="truncate">{{ name }}</h1>
        <svg viewBox="0 0 12 8" class="h-2 w-3 shrink-0" aria-hidden="true">
          <path d="M1 1l5 5 5-5" fill="none" stroke="currentColor" stroke-width="1.6" />
        </svg>
      </PopoverButton>
      <PopoverPanel
        class="sheet absolute left-0 z-20 max-h-[70vh] w-[min(28rem,90vw)] overflow-y-auto p-3"
        data-testid="cups"
      >
        <div class="flex gap-2 pb-2">
          <ToggleChip :on="!away" @click="away = false">On the bench</ToggleChip>
          <ToggleChip :on="away" @click="away = true">What was put away</ToggleChip>
        </div>
        <ul class="flex flex-col gap-2">
          <li v-for="c in others" :key="c.uid">
            <button
              type="button"
              class="flex min-h-11 w-full items-center gap-3 overflow-hidden rounded-lg bg-mist text-left"
              @click="(close(), router.push(`/bench/${c.uid}`))"
            >
              <ColourPatch :hex="c.swatch.hex" :name="c.name" class="w-12 self-stretch" />
              <span class="py-2">{{ c.name }}</span>
            </button>
          </li>
        </ul>
        <p v-if="cups && !others.length">{{ away ? 'No cup was put away.' : 'There is no other cup.' }}</p>
        <ListMore class="mt-2" :more="more" :reading="reading" @next="next" />
      </PopoverPanel>
    </Popover>
    <KeepMenu
      what="cup"
      :uid="state.uid"
      :name="name"
      :kept="state.kept"
      @renamed="emit('renamed')"
      @gone="router.push('/bench')"
    />
  </div>
</template>
