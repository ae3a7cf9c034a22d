<script setup lang="ts">
import { computed } from 'vue'

import type { Candidate, Dose } from '@/api/client'
import { dose } from '@/use/amount'
import { useShop } from '@/use/shop'

import SplitSwatch from './SplitSwatch.vue'

// One cup that could be poured: beside the reference, what goes in, how near it comes and what it asks for.
const props = defineProps<{
  candidate: Candidate
  place: number
  title?: string
  bait: string
  changed: boolean
  nameOf: (uid: string) => string
  held: string[]
  fixed?: boolean
}>()
defineEmits<{ step: [material: string, by: number]; hold: [dose: Dose]; bench: [] }>()

// 1/16 tsp + 1/32 tsp, with the unit said once.
const { data: shop } = useShop()
const short = (d: Dose) => dose(d).replace(/ tsp(?= \+)/g, '')
const bleeds = computed(() => props.candidate.bleeds)
</script>

<template>
  <article class="panel grid gap-3 p-3 md:grid-cols-[13rem_minmax(0,1fr)_11rem]" data-testid="candidate">
    <div class="flex flex-col gap-2">
      <div class="flex gap-1">
        <SplitSwatch
          v-for="r in candidate.readings"
          :key="r.name"
          class="h-16 min-w-0 flex-1"
          :got="r.is.hex"
          :wanted="r.wanted.hex"
          :name="r.name"
        />
      </div>
      <img v-if="bait" :src="bait" alt="A bait of this cup" class="w-full bg-[var(--surround)]" draggable="false" />
    </div>
    <div class="flex min-w-0 flex-col gap-1">
      <ul :aria-label="`What goes in, ${place}`">
        <li v-for="d in candidate.cup.doses" :key="d.material" class="flex items-center gap-1">
          <template v-if="!fixed">
            <button
              type="button"
              class="button px-3"
              :aria-label="`Less ${nameOf(d.material)}`"
              @click="$emit('step', d.material, -1)"
            >
              −
            </button>
            <button
              type="button"
              class="button px-3"
              :aria-label="`More ${nameOf(d.material)}`"
              @click="$emit('step', d.material, 1)"
            >
              +
            </button>
          </template>
          <span class="figure min-w-16 pl-1" data-testid="dose">{{ short(d) }}</span>
          <span class="min-w-0 flex-1 leading-tight break-words">{{ nameOf(d.material) }}</span>
          <button
            v-if="!fixed"
            type="button"
            class="link min-h-11 px-1 text-sm"
            :title="`Keep this dose and match the rest to it`"
            @click="$emit('hold', d)"
          >
            {{ held.includes(d.material) ? 'held' : 'hold' }}
          </button>
        </li>
      </ul>
      <p class="text-sm leading-tight text-slate">
        <span class="figure">{{ (100 * candidate.seeThrough).toFixed(0) }} %</span> comes through at
        <span class="figure">{{ candidate.seeMM }} mm</span
        ><template v-if="candidate.price > 0">
          · costs <span class="figure">{{ candidate.price.toFixed(2) }} {{ shop?.currency }}</span></template
        >
        <template v-if="candidate.over">
          · {{ candidate.over === 1 ? 'one dose is' : `${candidate.over} doses are` }} beyond the usual</template
        ><template v-if="bleeds.length">
          · {{ bleeds.join(' and ') }} {{ bleeds.length > 1 ? 'bleed' : 'bleeds' }}</template
        ><template v-if="candidate.oneStepSays"> · {{ candidate.oneStepSays }}</template>
      </p>
    </div>
    <div class="flex flex-col items-start gap-1">
      <p v-if="title" class="font-semibold">{{ title }}</p>
      <p class="leading-tight font-semibold">{{ candidate.nearness }}</p>
      <p>
        <span class="figure text-2xl" data-testid="delta">{{ candidate.deltaE00.toFixed(1) }}</span> ΔE00
        <span class="text-sm text-slate"
          >± <span class="figure">{{ candidate.range.toFixed(1) }}</span></span
        >
      </p>
      <p v-for="r in candidate.readings" :key="r.name" class="text-sm leading-tight" :title="r.enough">
        {{ r.name }} <span class="figure">{{ r.differs.deltaE00.toFixed(1) }} ± {{ r.range.toFixed(1) }}</span
        ><template v-if="r.differs.words">: {{ r.differs.words }}</template>
      </p>
      <p v-if="changed" class="text-sm">changed by hand</p>
      <slot />
      <button v-if="!fixed" type="button" class="button button-main mt-auto" @click="$emit('bench')">
        To the bench
      </button>
    </div>
  </article>
</template>
