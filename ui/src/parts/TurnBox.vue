<script setup lang="ts">
import { onScopeDispose, ref, watch } from 'vue'

import { dragged, turnOf, viewOf, type Turn } from '@/use/turn'

// A bait that is turned in the hand: dragged it turns about any axis, in quick pictures one at a time; at rest it is sharp.
const props = defineProps<{
  sharp: string // the picture at rest
  view: string
  main: string
  quick: (view: string) => string // where a quick picture of a view is
  alt: string
  testid?: string
}>()
const emit = defineEmits<{ turned: [view: string] }>()
const box = ref<HTMLElement>()
const shown = ref('')
let start: { x: number; y: number; turn: Turn } | undefined
let wanted = ''
let busy = false
let ended = false
onScopeDispose(() => (ended = true))

watch(
  () => props.sharp,
  () => {
    if (!start) shown.value = ''
  },
)

async function draw() {
  if (busy) return
  busy = true
  while (wanted && !ended) {
    const url = props.quick(wanted)
    wanted = ''
    const img = new Image()
    img.src = url
    try {
      await img.decode()
      if (start) shown.value = url
    } catch {
      // the next one may come through
    }
  }
  busy = false
}

function down(e: PointerEvent) {
  if (e.button !== 0) return
  start = { x: e.clientX, y: e.clientY, turn: turnOf(props.view, props.main) }
  box.value!.setPointerCapture?.(e.pointerId)
}
const held = (e: PointerEvent) => {
  const wide = box.value!.clientWidth
  return viewOf(dragged(start!.turn, (e.clientX - start!.x) / wide, (e.clientY - start!.y) / wide))
}
const still = (e: PointerEvent) => Math.hypot(e.clientX - start!.x, e.clientY - start!.y) < 4
function move(e: PointerEvent) {
  if (!start || (still(e) && !shown.value)) return
  wanted = held(e)
  void draw()
}
function up(e: PointerEvent) {
  if (start && !still(e)) emit('turned', held(e))
  start = undefined
  wanted = ''
}
const keys: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
}
function key(e: KeyboardEvent) {
  const way = keys[e.key]
  if (!way) return
  e.preventDefault()
  emit('turned', viewOf(dragged(turnOf(props.view, props.main), way[0] / 12, way[1] / 12)))
}
</script>

<template>
  <div
    ref="box"
    class="relative touch-none select-none"
    role="group"
    tabindex="0"
    :aria-label="`${alt}: drag it, or use the arrow keys, to turn it`"
    data-testid="turn-box"
    @pointerdown="down"
    @pointermove="move"
    @pointerup="up"
    @pointercancel="start = undefined"
    @keydown="key"
  >
    <img :src="shown || sharp" :alt="alt" class="w-full" draggable="false" :data-testid="testid ?? 'bait'" />
    <slot />
  </div>
</template>
