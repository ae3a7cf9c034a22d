<script setup lang="ts">
import { nextTick, ref, watch } from 'vue'

// A field for what people write freely. It hands over what was typed on Enter or when it is left, and keeps it
// in place when it was refused. Where it was asked back, Enter once more says "meant so".
const props = defineProps<{
  label: string
  value: string
  says?: string | undefined
  asks?: boolean
  figure?: boolean
  placeholder?: string
}>()
const emit = defineEmits<{ typed: [text: string, sure: boolean] }>()
const text = ref(props.value)
const sent = ref('')
const input = ref<HTMLInputElement>()
watch(
  () => props.value,
  async (now, was) => {
    const here = document.activeElement === input.value
    const typing = here && text.value !== was && text.value !== sent.value
    sent.value = ''
    if (typing) return // an answer to an earlier tap must not run over what is being typed
    text.value = now
    if (!here) return
    await nextTick()
    input.value?.select() // what is typed next still replaces the whole
  },
)
function hand(sure = false) {
  if (!sure && (text.value.trim() === props.value.trim() || text.value === sent.value)) return
  sent.value = text.value
  emit('typed', text.value, sure)
}
function enter() {
  hand(!!props.asks && text.value === sent.value)
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
    :placeholder="placeholder"
    :aria-label="label"
    :aria-invalid="!!says"
    @focus="($event.target as HTMLInputElement).select()"
    @blur="hand()"
    @keydown.enter.prevent="enter"
    @keydown.esc.prevent="forget"
  />
</template>
