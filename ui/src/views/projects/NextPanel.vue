<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'

import { api, ask, saysOf, type Cup, type Onward, type Taught } from '@/api/client'
import ProblemNote from '@/parts/ProblemNote.vue'
import { dose } from '@/use/amount'
import { useAccept } from '@/use/learned'
import { useShelf } from '@/use/shop'
import SplitSwatch from '@/views/match/SplitSwatch.vue'

// What to do about a part: each way on with what it is expected to bring, and the way to the bench.
const props = defineProps<{ project: string; part: string; stamp: string; unused: Taught[] }>()
const { accept, says: acceptSays, busy: accepting } = useAccept()
const router = useRouter()
const { nameOf } = useShelf()
const { data, error, isFetching } = useQuery({
  queryKey: ['next', computed(() => props.project), computed(() => props.part), computed(() => props.stamp)],
  queryFn: () =>
    ask(
      api.POST('/projects/{project}/next', {
        params: { path: { project: props.project } },
        body: { part: props.part },
      }),
    ),
  staleTime: 60_000,
  retry: false,
})
const all = ref(false)
const shown = computed(() => (all.value ? data.value?.steps : data.value?.steps.slice(0, data.value.enough ? 0 : 2)))
const kinds: Record<string, string> = {
  leave: 'Leave it',
  add: 'Add to what is left',
  clear: 'Thin with clear plastisol',
  fresh: 'A fresh cup',
}
const says = ref<string>()
const what = (s: Onward) =>
  (s.kind === 'fresh' ? s.cup.doses : s.adds).map((d) => `${dose(d)} ${nameOf(d.material)}`).join(', ')

async function bench(cup: Cup) {
  says.value = undefined
  try {
    const made = await ask(
      api.POST('/projects/{project}/bench', {
        params: { path: { project: props.project } },
        body: { part: props.part, cup },
      }),
    )
    await router.push(`/bench/${made.cup}`)
  } catch (e) {
    says.value = saysOf(e)
  }
}
</script>

<template>
  <div class="flex min-w-0 flex-col gap-3" data-testid="next">
    <p v-if="!data && isFetching" role="status" class="text-slate">Working out what to pour next…</p>
    <ProblemNote :says="says ?? acceptSays ?? error?.message" />
    <p v-if="data" class="text-lg leading-tight" :class="data.enough && 'font-semibold'">{{ data.says }}</p>
    <p v-if="data && !data.enough && unused.length" class="flex flex-wrap items-center gap-3">
      <span class="min-w-60 flex-1 leading-tight"
        >Worked out by the bottles’ own figures. Your batches know
        {{ unused.length === 1 ? unused[0]!.name : `${unused.length} of them` }} better.</span
      >
      <button type="button" class="button" :disabled="accepting" @click="accept(true, ...unused)">
        Accept what they say
      </button>
    </p>
    <ol v-if="shown?.length" class="flex flex-col divide-y divide-haze">
      <li v-for="(s, i) in shown" :key="i" class="flex flex-wrap items-center gap-3 py-2" data-step>
        <div class="flex w-28 shrink-0 gap-1">
          <SplitSwatch
            v-for="r in s.readings"
            :key="r.name"
            class="h-14 min-w-0 flex-1"
            :got="r.is.hex"
            :wanted="r.wanted.hex"
            :name="r.name"
          />
        </div>
        <div class="min-w-52 flex-1 leading-tight">
          <p class="font-semibold">{{ kinds[s.kind] }}</p>
          <p v-if="what(s)">{{ what(s) }}</p>
          <p v-if="s.says" class="text-sm text-slate">{{ s.says }}</p>
        </div>
        <p class="w-32 text-right leading-tight">
          <span class="figure text-2xl">{{ s.deltaE00.toFixed(1) }}</span> ΔE00<br />
          <span class="text-sm text-slate"
            >give or take <span class="figure">{{ s.r80.toFixed(1) }}</span></span
          >
        </p>
        <button v-if="s.kind !== 'leave'" type="button" class="button button-main" @click="bench(s.cup)">
          To the bench
        </button>
      </li>
    </ol>
    <button
      v-if="data && !all && data.steps.length > (shown?.length ?? 0)"
      type="button"
      class="link min-h-11 self-start"
      @click="all = true"
    >
      {{ data.enough ? 'Go on all the same' : 'More ways on' }}
    </button>
  </div>
</template>
