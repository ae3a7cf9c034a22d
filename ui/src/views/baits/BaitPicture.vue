<script setup lang="ts">
import { computed, ref } from 'vue'

import type { BaitPage } from '@/api/client'
import MmRuler from '@/parts/MmRuler.vue'
import TurnBox from '@/parts/TurnBox.vue'

// The bait as it is held: dragged it turns; in its main view layers, bars and spots are dragged by their handles.
const props = defineProps<{ page: BaitPage; view: string; quick: (view: string) => string }>()
const emit = defineEmits<{
  turned: [view: string]
  move: [field: string, typed: string, done: boolean]
}>()
const box = ref<HTMLElement>()
const img = computed(() => props.page.main)
const high = computed(() => img.value.heightPX)

// A place on the bait as a share of the picture, and back.
const left = (xMM: number) => `${(100 * (xMM - img.value.noseMM) * img.value.pxPerMM) / img.value.widthPX}%`
const top = (uMM: number) => `${50 - (100 * (uMM - img.value.middleMM) * img.value.pxPerMM) / high.value}%`
const main = computed(() => props.page.moldCard.mainView)
const straight = computed(() => ['', 'main', main.value].includes(props.view))

const handles = computed(() =>
  !straight.value
    ? []
    : props.page.parts.flatMap((p) => {
        if (p.dragged === 'layer' && main.value === 'side')
          return [
            {
              key: p.key,
              name: `Upper edge of the ${p.name}`,
              kind: 'layer',
              x: 0.62 * props.page.moldCard.lengthMM,
              u: p.topMM,
              size: 0,
            },
          ]
        if (p.dragged === 'bar') return [{ key: p.key, name: p.name, kind: 'bar', x: p.atMM, u: 0, size: p.sizeMM }]
        if (p.dragged === 'spot')
          return [
            {
              key: p.key,
              name: p.name,
              kind: 'spot',
              x: p.atMM,
              u: p.upMM,
              size: p.sizeMM,
            },
          ]
        return []
      }),
)

let held: { key: string; kind: string } | undefined
const at = (e: PointerEvent) => {
  const r = box.value!.getBoundingClientRect()
  const pxPerMM = (img.value.pxPerMM * r.width) / img.value.widthPX
  return {
    x: (e.clientX - r.left) / pxPerMM + img.value.noseMM,
    u: (r.top + r.height / 2 - e.clientY) / pxPerMM + img.value.middleMM,
  }
}
function place(x: number, u: number, done: boolean) {
  if (!held) return
  const round = (v: number) => v.toFixed(1)
  if (held.kind === 'layer') emit('move', `${held.key}.y`, round(u), done)
  else if (held.kind === 'bar') emit('move', `${held.key}.at`, round(Math.max(0, x)), done)
  else emit('move', `${held.key}.place`, `${round(x)} ${round(u)}`, done)
}
function send(e: PointerEvent, done: boolean) {
  const p = at(e)
  place(p.x, p.u, done)
}
// Arrow keys move a handle by a millimetre, with Shift by a tenth.
function nudge(e: KeyboardEvent, h: { key: string; kind: string; x: number; u: number }) {
  const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[e.key]
  if (!way) return
  e.preventDefault()
  const by = e.shiftKey ? 0.1 : 1
  held = h
  place(h.x + way[0]! * by, h.u + way[1]! * by, true)
  held = undefined
}
function down(e: PointerEvent, handle: { key: string; kind: string }) {
  held = handle
  box.value?.setPointerCapture?.(e.pointerId)
}
let moving = false
function move(e: PointerEvent) {
  if (!e.buttons || !held) return
  moving = true
  send(e, false)
}
function up(e: PointerEvent) {
  if (moving) send(e, true)
  held = undefined
  moving = false
}
</script>

<template>
  <div
    ref="box"
    class="relative w-full touch-none select-none"
    data-testid="bait-box"
    @pointermove="move"
    @pointerup="up"
  >
    <TurnBox
      :sharp="img.png"
      :view="view"
      :main="main"
      :quick="quick"
      alt="The bait, predicted"
      testid="bait-main"
      @turned="(v) => emit('turned', v)"
    />
    <MmRuler
      class="pointer-events-none absolute! inset-x-0 bottom-0 text-black"
      :from-m-m="img.noseMM"
      :mm="img.widthPX / img.pxPerMM"
    />
    <button
      v-for="h in handles"
      :key="h.key"
      type="button"
      class="absolute flex h-11 w-11 -translate-x-1/2 -translate-y-1/2 items-center justify-center"
      :style="{ left: left(h.x), top: top(h.u) }"
      :aria-label="`Drag: ${h.name}. Arrow keys move it.`"
      :data-handle="h.key"
      @pointerdown.stop="(e) => down(e, h)"
      @keydown="(e) => nudge(e, h)"
    >
      <svg viewBox="0 0 44 44" class="h-11 w-11" aria-hidden="true">
        <g fill="none" stroke="#fff" stroke-width="4" opacity="0.75">
          <path v-if="h.kind === 'layer'" d="M4 22h36M22 10l-5 6M22 10l5 6M22 34l-5-6M22 34l5-6" />
          <path v-else-if="h.kind === 'bar'" d="M22 8v28M10 22l6-5M10 22l6 5M34 22l-6-5M34 22l-6 5" />
          <circle v-else cx="22" cy="22" r="9" />
        </g>
        <g fill="none" stroke="#191919" stroke-width="1.6">
          <path v-if="h.kind === 'layer'" d="M4 22h36M22 10l-5 6M22 10l5 6M22 34l-5-6M22 34l5-6" />
          <path v-else-if="h.kind === 'bar'" d="M22 8v28M10 22l6-5M10 22l6 5M34 22l-6-5M34 22l-6 5" />
          <circle v-else cx="22" cy="22" r="9" />
        </g>
      </svg>
    </button>
  </div>
</template>
