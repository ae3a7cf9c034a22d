<script setup lang="ts">
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/vue'
import { nextTick, ref } from 'vue'

import { type Kept, type Thing, useKeeping } from '@/use/keeping'

// Rename, put away, delete; and bring back what was. What is done can be undone from the bar at the foot of every screen.
const props = defineProps<{ what: Thing; uid: string; name: string; kept: Kept; long?: boolean; right?: boolean }>()
const emit = defineEmits<{ renamed: []; gone: [] }>()
const keeping = useKeeping()
const renaming = ref(false)
const typed = ref('')
const input = ref<HTMLInputElement | HTMLTextAreaElement>()
const word = {
  recipe: 'recipe',
  reference: 'reference',
  batch: 'test batch',
  bait: 'bait',
  cup: 'cup',
  project: 'project',
  pour: 'pour',
  leftover: 'leftover',
  log: 'entry',
  pack: 'pack',
  supply: 'supply',
}[props.what]
async function rename() {
  typed.value = props.name
  renaming.value = true
  await nextTick()
  input.value?.select()
}
async function named() {
  if (typed.value.trim() === props.name || (await keeping.rename(props.what, props.uid, typed.value))) {
    renaming.value = false
    emit('renamed')
  }
}
async function put(kept: Kept) {
  if ((await keeping.keep(props.what, props.uid, props.name, kept)) && kept !== 'here') emit('gone')
}
</script>

<template>
  <div class="text-ink" :data-keep="uid">
    <div v-if="kept !== 'here'" class="says flex flex-wrap items-center gap-3" role="status">
      This {{ word }} {{ kept === 'away' ? 'was put away' : 'was deleted' }}.
      <button type="button" class="button" @click="put('here')">Bring it back</button>
      <button v-if="kept === 'away'" type="button" class="button" @click="put('deleted')">Delete it</button>
    </div>
    <form v-else-if="renaming" class="flex flex-wrap items-center gap-2" @submit.prevent="named">
      <textarea
        v-if="long"
        ref="input"
        v-model="typed"
        class="field min-h-24 flex-1 basis-64 py-2"
        :aria-label="`Verdict of this ${word}`"
        @keydown.esc="renaming = false"
      />
      <input
        v-else
        ref="input"
        v-model="typed"
        class="field flex-1 basis-56"
        type="text"
        :aria-label="`New name of this ${word}`"
        @keydown.esc="renaming = false"
      />
      <button type="submit" class="button button-main">Keep</button>
      <button type="button" class="button" @click="renaming = false">Never mind</button>
      <p v-if="keeping.says.value" class="says basis-full">{{ keeping.says.value }}</p>
    </form>
    <Menu v-else as="div" class="relative inline-block">
      <MenuButton class="button px-3" :aria-label="`What to do with this ${word}: ${name}`">More…</MenuButton>
      <MenuItems class="sheet absolute z-20 mt-1 w-max overflow-hidden" :class="right ? 'right-0' : 'left-0'">
        <MenuItem v-slot="{ active }">
          <button
            type="button"
            class="block min-h-11 w-full px-4 text-left"
            :class="active && 'bg-fog'"
            @click="rename"
          >
            {{ long ? 'Change the verdict' : 'Rename' }}
          </button>
        </MenuItem>
        <MenuItem v-slot="{ active }">
          <button
            type="button"
            class="block min-h-11 w-full px-4 text-left"
            :class="active && 'bg-fog'"
            @click="put('away')"
          >
            Put away
          </button>
        </MenuItem>
        <MenuItem v-slot="{ active }">
          <button
            type="button"
            class="block min-h-11 w-full px-4 text-left"
            :class="active && 'bg-fog'"
            @click="put('deleted')"
          >
            Delete
          </button>
        </MenuItem>
      </MenuItems>
    </Menu>
  </div>
</template>
