<script setup lang="ts">
import { computed, ref } from 'vue'

import type { PourCook, PourStep, PourTimeline } from '@/api/client'
import { clock, degrees } from '@/use/pours'

// The order of the work as a picture: how warm each cup is, with the band in which it is shot, and under it who and what is busy when.
// A step can be dragged to later, or moved with the arrow keys.
const props = defineProps<{
  timeline: PourTimeline
  cooks: PourCook[]
  swatches: string[]
  tickS: number
  now?: number | undefined
  still?: boolean
}>()
const emit = defineEmits<{ move: [key: string, tick: number] }>()
const pxPerTick = computed(() => Math.max(5, Math.min(13, 1100 / Math.max(60, props.timeline.ticks))))
const left = 104
const width = computed(() => left + props.timeline.ticks * pxPerTick.value + 24)
const cupHigh = 92
const laneHigh = 34
const x = (tick: number) => left + tick * pxPerTick.value
const curves = computed(() => props.timeline.curves.filter((c) => c.c.length > 0))
const lowC = 20
const highC = 200
const y = (c: number) => cupHigh - 8 - ((cupHigh - 16) * (Math.min(highC, Math.max(lowC, c)) - lowC)) / (highC - lowC)
const names: Record<string, string> = { microwave: 'Microwave', vacuum: 'Vacuum', plate: 'Hot plate', hands: 'Hands' }
const order = ['microwave', 'vacuum', 'plate', 'hands'] as const
// A resource of which there are several gets as many rows as are busy at once.
const lanes = computed(() =>
  order.flatMap((use) => {
    const steps = props.timeline.steps.filter((s) => s.uses.includes(use) && s.ticks > 0)
    const rows: PourStep[][] = []
    for (const s of steps) {
      const row = rows.find((r) => r.every((o) => o.start + o.ticks <= s.start || s.start + s.ticks <= o.start))
      if (row) row.push(s)
      else rows.push([s])
    }
    return rows.map((row, i) => ({ name: i ? '' : names[use]!, steps: row }))
  }),
)
// How long each load stays in its mold.
const molds = computed(() =>
  props.timeline.steps
    .filter((s) => s.kind === 'demould')
    .map((open) => {
      const shot = props.timeline.steps.find((s) => open.key === `${s.key}.open`)
      return { key: open.key, from: shot ? shot.start + shot.ticks : open.start, to: open.start, title: open.title }
    }),
)
const top = computed(() => curves.value.length * cupHigh + 26)
const high = computed(() => top.value + (lanes.value.length + (molds.value.length ? 1 : 0)) * laneHigh + 8)
const minutes = computed(() => {
  const all = (props.timeline.ticks * props.tickS) / 60
  const every = [1, 2, 5, 10, 20, 30].find((m) => all / m <= 22) ?? 60
  return Array.from({ length: Math.floor(all / every) + 1 }, (_, i) => i * every)
})
const path = (c: { from: number; c: number[] }) =>
  c.c.map((v, i) => `${i ? 'L' : 'M'}${x(c.from + i).toFixed(1)} ${y(v).toFixed(1)}`).join('')
const letter = (s: PourStep) => s.cooks.map((k) => props.cooks[k]?.letter ?? '').join('')
const words: Record<string, string> = {
  warm: 'warm',
  measure: 'measure',
  degas: 'degas',
  burst: '',
  stir: 'stir',
  colour: 'colour',
  ready: 'stir',
  shoot: 'shoot',
  top: 'top off',
  demould: 'open',
  tails: 'tails',
}
function label(s: PourStep) {
  const w = s.ticks * pxPerTick.value
  const what = s.kind === 'burst' ? letter(s) : `${letter(s)} ${words[s.kind]}`.trim()
  return w > what.length * 7.2 ? what : w > 12 ? letter(s) : ''
}

const chosen = ref('')
const step = computed(() => props.timeline.steps.find((s) => s.key === chosen.value))
const drag = ref<{ key: string; from: number; at: number }>()
const shift = (s: PourStep) => (drag.value?.key === s.key ? drag.value.at - drag.value.from : 0)
function begin(s: PourStep, e: PointerEvent) {
  chosen.value = s.key
  if (props.still) return
  ;(e.currentTarget as Element).setPointerCapture(e.pointerId)
  drag.value = { key: s.key, from: e.clientX, at: e.clientX }
}
function end(s: PourStep) {
  const by = Math.round(shift(s) / pxPerTick.value)
  drag.value = undefined
  if (by !== 0) emit('move', s.key, Math.max(0, s.start + by))
}
function key(s: PourStep, e: KeyboardEvent) {
  const by = { ArrowLeft: -2, ArrowRight: 2 }[e.key]
  if (by && !props.still) {
    e.preventDefault()
    emit('move', s.key, Math.max(0, s.start + by))
  } else if (e.key === 'Enter' || e.key === ' ') {
    e.preventDefault()
    chosen.value = s.key
  }
}
const time = (tick: number) => clock(tick * props.tickS)
// What has room beside the chart.
const fitting = (name: string) => (name.length > 15 ? `${name.slice(0, 14)}…` : name)
</script>

<template>
  <div>
    <div class="overflow-x-auto bg-white" data-testid="timeline">
      <svg
        :viewBox="`0 0 ${width} ${high}`"
        :width="width"
        :height="high"
        font-size="13"
        role="group"
        aria-label="Timeline"
      >
        <g v-for="m in minutes" :key="m" class="figure">
          <line :x1="x((m * 60) / tickS)" :x2="x((m * 60) / tickS)" :y1="20" :y2="high" stroke="#e2e2e2" />
          <text :x="x((m * 60) / tickS)" y="14" text-anchor="middle" fill="#5c5c5c">{{ m }}</text>
        </g>
        <text x="8" y="14" fill="#5c5c5c">minutes</text>
        <g v-for="(c, i) in curves" :key="c.cook" :transform="`translate(0 ${i * cupHigh + 22})`">
          <line x1="0" :x2="width" :y1="cupHigh" :y2="cupHigh" stroke="#c4c4c4" stroke-width="0.7" />
          <rect
            :x="left"
            :width="width - left"
            :y="y(c.most)"
            :height="Math.max(1, y(c.least) - y(c.most))"
            fill="#ececec"
          />
          <rect x="8" y="10" width="20" height="20" :fill="swatches[cooks[c.cook]?.of ?? 0]" />
          <text x="34" y="25" font-size="15" font-weight="700">{{ cooks[c.cook]?.letter }}</text>
          <text x="8" y="48">
            {{ fitting(cooks[c.cook]?.name ?? '') }}
            <title>{{ cooks[c.cook]?.name }}</title>
          </text>
          <text x="8" y="66" fill="#5c5c5c" class="figure">
            {{ Math.round(c.least * 1.8 + 32) }}–{{ Math.round(c.most * 1.8 + 32) }} °F
          </text>
          <path :d="path(c)" fill="none" stroke="#191919" stroke-width="1.8" stroke-linejoin="round" />
          <circle
            v-for="(r, k) in c.reads"
            :key="k"
            :cx="x(r.tick)"
            :cy="y(r.c)"
            r="4"
            fill="#fff"
            stroke="#191919"
            stroke-width="1.6"
          />
          <template v-for="s in timeline.steps" :key="s.key">
            <line
              v-if="s.kind === 'shoot' && s.cooks.includes(c.cook)"
              :x1="x(s.start)"
              :x2="x(s.start)"
              y1="4"
              :y2="cupHigh - 4"
              stroke="#21565f"
              stroke-width="1.6"
            />
          </template>
        </g>
        <g v-for="(lane, i) in lanes" :key="i" :transform="`translate(0 ${top + i * laneHigh})`">
          <text x="8" y="21">{{ lane.name }}</text>
          <g
            v-for="s in lane.steps"
            :key="s.key"
            :transform="`translate(${x(s.start) + shift(s)} 3)`"
            class="cursor-pointer"
            tabindex="0"
            role="button"
            :aria-label="`${s.title}, at ${time(s.start)}`"
            :data-step="s.key"
            @pointerdown="(e) => begin(s, e)"
            @pointermove="(e) => drag?.key === s.key && (drag.at = e.clientX)"
            @pointerup="end(s)"
            @pointercancel="drag = undefined"
            @keydown="(e) => key(s, e)"
            @focus="chosen = s.key"
          >
            <rect
              :width="Math.max(4, s.ticks * pxPerTick - 1.5)"
              :height="laneHigh - 8"
              :fill="s.kind === 'shoot' ? '#21565f' : s.kind === 'burst' ? '#3a3a3a' : '#c4c4c4'"
              :stroke="chosen === s.key ? '#191919' : 'none'"
              stroke-width="2.5"
            />
            <text
              :x="Math.max(4, s.ticks * pxPerTick - 1.5) / 2"
              :y="laneHigh / 2 + 1"
              text-anchor="middle"
              :fill="s.kind === 'shoot' || s.kind === 'burst' ? '#fff' : '#191919'"
              pointer-events="none"
            >
              {{ label(s) }}
            </text>
          </g>
        </g>
        <g v-if="molds.length" :transform="`translate(0 ${top + lanes.length * laneHigh})`">
          <text x="8" y="21">Molds</text>
          <g v-for="m in molds" :key="m.key">
            <title>{{ m.title }}</title>
            <line :x1="x(m.from)" :x2="x(m.to)" y1="17" y2="17" stroke="#8e8e8e" stroke-width="7" />
          </g>
        </g>
        <line
          v-if="now !== undefined"
          :x1="x(now)"
          :x2="x(now)"
          y1="16"
          :y2="high"
          stroke="#191919"
          stroke-width="2"
          stroke-dasharray="3 3"
        />
      </svg>
    </div>
    <div v-if="step" class="flex min-h-24 flex-wrap items-start gap-x-6 gap-y-1 bg-fog p-3" data-testid="chosen-step">
      <div class="min-w-64 flex-1">
        <p class="font-semibold">{{ step.title }}</p>
        <p v-for="(s, i) in step.says" :key="i">{{ s }}</p>
        <p v-if="step.burstS" class="figure">
          {{ Math.round(step.burstS) }} s, from {{ degrees(step.fromC ?? 20) }} to {{ degrees(step.toC ?? 0) }}
        </p>
        <p v-if="step.caution" class="font-medium">{{ step.caution }}</p>
      </div>
      <p class="figure text-lg">{{ time(step.start) }} to {{ time(step.start + step.ticks) }}</p>
      <div v-if="!still" class="flex gap-2">
        <button type="button" class="button bg-white!" @click="$emit('move', step.key, Math.max(0, step.start - 4))">
          1 min sooner
        </button>
        <button type="button" class="button bg-white!" @click="$emit('move', step.key, step.start + 4)">
          1 min later
        </button>
      </div>
    </div>
    <p v-else class="p-3 text-slate">
      Tap a step to read it<template v-if="!still">; drag it to do it later, and what follows is timed anew</template>.
      The grey band is the heat at which a cup can be shot.
    </p>
  </div>
</template>
