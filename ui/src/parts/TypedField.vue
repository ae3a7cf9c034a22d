<script setup lang="ts">
import { nextTick, ref, watch } from 'vue'

// A field for what people write freely. It hands over what was typed on Enter or when it is left, and keeps it
// in place when it was refused.
const props = defineProps<{ label: string; value: string; says?: string | undefined; figure?: boolean }>()
const emit = defineEmits<{ typed: [text: string] }>()
const text = ref(props.value)
const sent = ref('')
const input = ref<HTMLInputElement>()
watch(
  () => props.value,
  async (now, was) => {
    const here = document.activeElement === input.value
    const typing = here && text.value !== was && !sent.value
    sent.value = ''
    if (typing) return // an answer to an earlier tap must not run over what is being typed
    text.value = now
    if (!here) return
    await nextTick()
    input.value?.select() // what is typed next still replaces the whole
  },
)
function hand() {
  if (text.value.trim() === props.value.trim() || text.value === sent.value) return
  sent.value = text.value
  emit('typed', text.value)
}
function forget() {
  text.value = props.value
  sent.value = ''
}
</script>

<template>
  <input
    ref="input"
    v-model="text"
    class="field"
    :class="figure && 'figure'"
    type="text"
    autocomplete="off"
    :aria-label="label"
    :aria-invalid="!!says"
    @focus="($event.target as HTMLInputElement).select()"
    @blur="hand"
    @keydown.enter.prevent="hand"
    @keydown.esc.prevent="forget"
  />
</template>
