<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { RouterLink, useRouter } from 'vue-router'

import { api, ask, saysOf, type Problem, type BenchState, type Step } from '@/api/client'
import ColourPatch from '@/parts/ColourPatch.vue'
import ListMore from '@/parts/ListMore.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import ToggleChip from '@/parts/ToggleChip.vue'
import TypedField from '@/parts/TypedField.vue'
import { useCups } from '@/use/lists'
import { useShop } from '@/use/shop'

// The cup as a quantity: what is in it now, what left it and came back, its heat, and the other cups on the bench.
const props = defineProps<{ state: BenchState; problem: Problem | undefined }>()
const emit = defineEmits<{ step: [step: Step]; changed: [] }>()
const router = useRouter()
const client = useQueryClient()

const { items: cups, more, reading, next } = useCups(() => props.state.head)
const others = computed(() => (cups.value ?? []).filter((c) => c.uid !== props.state.uid))
const cup = computed(() => props.state.cup)
const says = ref('')
const share = ref('half')
const back = ref('20 %')
const { data: shop } = useShop()
const heat = ref('')
watch(shop, (s) => (heat.value ||= s?.usualWork ?? ''), { immediate: true })
const partName = ref('')
const params = computed(() => ({ path: { cup: props.state.uid }, query: {} }))
const shares = ['half', '1/3', '1/4', '2 fl oz']

async function tell(work: () => Promise<unknown>) {
  says.value = ''
  try {
    await work()
  } catch (e) {
    says.value = saysOf(e)
  }
}
const split = (part: number) =>
  tell(async () => {
    await ask(
      api.POST('/cups/{cup}/split', {
        params: params.value,
        body: { seen: props.state.head, share: part },
      }),
    )
    emit('changed')
    await client.invalidateQueries({ queryKey: ['cups'] })
  })
const merge = (other: string, part = 0) =>
  tell(async () => {
    await ask(
      api.POST('/cups/{cup}/merge', {
        params: params.value,
        body: { seen: props.state.head, other, share: part },
      }),
    )
    emit('changed')
    await client.invalidateQueries({ queryKey: ['cups'] })
  })
// Once for each time it is said: the field is empty afterwards, so that Enter and the button together count once.
function cameBack() {
  if (back.value.trim()) emit('step', { kind: 'return', typed: back.value })
  back.value = ''
}
const label = (c: { letter?: string; part?: string }) =>
  [c.letter && `Cup ${c.letter}`, c.part].filter(Boolean).join(', ') || 'A cup'
</script>

<template>
  <div class="flex min-h-0 flex-1 flex-col gap-4 overflow-y-auto p-3">
    <section class="flex flex-col gap-2">
      <h2>
        {{ label(cup) }}: <span class="figure">{{ state.look.finishedML.toFixed(0) }} ml</span> left
      </h2>
      <p v-if="state.warmth" class="says" role="status" data-testid="warmth">
        {{ state.warmth.says }} Heated {{ state.warmth.heats === 1 ? 'once' : `${state.warmth.heats} times` }}.
      </p>
      <div class="flex flex-wrap gap-2">
        <button
          v-for="l in ['A', 'B', 'C', 'D']"
          :key="l"
          type="button"
          class="button w-11 px-0"
          :class="cup.letter === l && 'bg-ink! text-white!'"
          :aria-label="`Mark it cup ${l}`"
          :aria-pressed="cup.letter === l"
          @click="emit('step', { kind: 'name', letter: l, part: cup.part ?? '' })"
        >
          {{ l }}
        </button>
        <form
          class="flex flex-1 gap-2"
          @submit.prevent="emit('step', { kind: 'name', letter: cup.letter ?? '', part: partName })"
        >
          <input
            v-model="partName"
            class="field flex-1"
            type="text"
            :placeholder="cup.part || 'Back, belly, tail…'"
            aria-label="For which part"
          />
          <button type="submit" class="button px-3">Name it</button>
        </form>
      </div>
    </section>

    <section class="flex flex-col gap-2">
      <h2>Heat</h2>
      <form class="flex gap-2" @submit.prevent="emit('step', { kind: 'heat', typed: heat })">
        <input v-model="heat" class="field figure flex-1" type="text" aria-label="Heated to" />
        <button type="submit" class="button">It is that hot now</button>
      </form>
      <label class="flex items-center gap-2">
        <span class="whitespace-nowrap">Worked at</span>
        <TypedField
          figure
          label="Working temperature"
          :value="state.look.workSays"
          @typed="(t) => emit('step', { kind: 'work', typed: t })"
        />
      </label>
      <p class="text-slate">
        Gloves, sleeves and eye protection. Never past what the maker of the plastisol states; scorched plastic gives
        off irritant gas: take it outside.
      </p>
    </section>

    <section class="flex flex-col gap-2">
      <h2>Out of it</h2>
      <div class="flex flex-wrap gap-2">
        <ToggleChip v-for="s in shares" :key="s" class="figure" :on="share === s" @click="share = s">{{
          s
        }}</ToggleChip>
        <input v-model="share" class="field figure w-28! flex-1" type="text" aria-label="How much" />
      </div>
      <div class="flex flex-wrap gap-2">
        <button type="button" class="button" @click="emit('step', { kind: 'pour', typed: share })">
          Poured or shot
        </button>
        <button type="button" class="button" @click="emit('step', { kind: 'lost', typed: share })">Lost</button>
      </div>
      <form v-if="cup.out?.some((o) => o.what === 'pour')" class="flex gap-2" @submit.prevent="cameBack">
        <input
          v-model="back"
          class="field figure flex-1"
          type="text"
          aria-label="How much came back"
          placeholder="20 % or 40 ml"
        />
        <button type="submit" class="button">Sprues and plug came back</button>
      </form>
      <ul v-if="cup.out?.length">
        <li v-for="(o, i) in cup.out" :key="i" class="text-slate">
          {{ o.what === 'lost' ? 'Lost' : 'Poured' }} <span class="figure">{{ (100 * o.share).toFixed(0) }} %</span>,
          <span class="figure">{{ o.ml.toFixed(0) }} ml</span
          ><template v-if="o.backML"
            >, of which <span class="figure">{{ o.backML.toFixed(0) }} ml</span> came back</template
          >
        </li>
      </ul>
      <ProblemNote :says="problem?.message ?? says" />
    </section>

    <section class="flex flex-col gap-2">
      <h2>Two cups</h2>
      <div class="flex flex-wrap gap-2">
        <button type="button" class="button" @click="split(0.5)">Split it in half</button>
        <button type="button" class="button" @click="split(0.25)">A quarter into a second cup</button>
      </div>
      <ul class="flex flex-col gap-2" aria-label="Other cups on the bench">
        <li v-for="c in others" :key="c.uid" class="flex items-stretch gap-2 bg-white" :data-cup="c.uid">
          <ColourPatch :hex="c.swatch.hex" :name="`${label(c.cup)}, as a body`" class="w-9 shrink-0" />
          <RouterLink :to="`/bench/${c.uid}`" class="flex min-h-11 min-w-0 flex-1 items-center leading-tight">
            <span
              >{{ label(c.cup) }}, <span class="figure">{{ c.cup.volume.ml.toFixed(0) }} ml</span> of plastisol,
              {{ c.cup.doses.length }} {{ c.cup.doses.length === 1 ? 'thing' : 'things' }} in it</span
            >
          </RouterLink>
          <span class="flex flex-col">
            <button type="button" class="button px-3" @click="merge(c.uid)">Pour it in here</button>
            <button type="button" class="button px-3" @click="merge(c.uid, 0.1)">A tenth got in</button>
          </span>
        </li>
      </ul>
      <ListMore :more="more" :reading="reading" @next="next" />
      <button type="button" class="button self-start" @click="router.push(`/count/${state.uid}`)">
        Hands full: count aloud
      </button>
    </section>
  </div>
</template>
