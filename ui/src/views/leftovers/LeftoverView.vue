<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'

import { api, ask, problemOf, type Problem, type LeftoverCard } from '@/api/client'
import BaitPatch from '@/parts/BaitPatch.vue'
import ColourPatch from '@/parts/ColourPatch.vue'
import KeepMenu from '@/parts/KeepMenu.vue'
import ListPicker from '@/parts/ListPicker.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import TypedField from '@/parts/TypedField.vue'
import { heatedWords } from '@/use/heated'
import { useLeftovers } from '@/use/lists'

// One leftover: what is in it, how it looks by now and after more heats, and what is done with it.
const route = useRoute()
const router = useRouter()
const client = useQueryClient()
const uid = computed(() => route.params.leftover as string)
const path = computed(() => ({ path: { leftover: uid.value } }))
const { data: page, error } = useQuery({
  queryKey: ['leftovers', uid],
  queryFn: () => ask(api.GET('/leftovers/{leftover}', { params: path.value })),
})
const problem = ref<Problem>()
async function tell<T>(work: () => Promise<T>): Promise<T | undefined> {
  problem.value = undefined
  try {
    const got = await work()
    await client.invalidateQueries()
    return got
  } catch (e) {
    problem.value = problemOf(e)
    if (problem.value.status === 409) await client.invalidateQueries({ queryKey: ['leftovers'] })
    return undefined
  }
}
const seen = computed(() => page.value?.revision ?? 0)
const change = (body: { note?: string; volume?: string }) =>
  tell(() => ask(api.PATCH('/leftovers/{leftover}', { params: path.value, body: { ...body, seen: seen.value } })))
const amount = ref('')
async function use() {
  const got = await tell(() =>
    ask(
      api.POST('/leftovers/{leftover}/use', { params: path.value, body: { seen: seen.value, volume: amount.value } }),
    ),
  )
  if (got) await router.push(`/bench/${got.cup}`)
}
const { items: all } = useLeftovers()
const others = computed(() => [
  { key: '', name: 'Another leftover…' },
  ...(all.value ?? [])
    .filter((l) => l.uid !== uid.value)
    .map((l) => ({ key: l.uid, name: `${l.name}, ${l.volume.toFixed(0)} ml` })),
])
const other = ref('')
const much = ref('')
const mixed = ref<LeftoverCard>()
async function preview() {
  mixed.value = undefined
  if (!other.value) return
  problem.value = undefined
  try {
    mixed.value = await ask(
      api.POST('/leftovers/{leftover}/mixed', {
        params: path.value,
        body: { seen: seen.value, with: other.value, volume: much.value },
      }),
    )
  } catch (e) {
    problem.value = problemOf(e)
  }
}
async function mix() {
  const done = await tell(() =>
    ask(
      api.POST('/leftovers/{leftover}/mix', {
        params: path.value,
        body: { seen: seen.value, with: other.value, volume: much.value },
      }),
    ),
  )
  if (done) {
    other.value = ''
    mixed.value = undefined
  }
}
const kinds = {
  cup: 'The rest of a cup',
  sprues: 'Sprues and plugs',
  spoiled: 'Spoiled baits',
  mixed: 'Mixed',
  guessed: 'Taken to be of a recipe',
}
</script>

<template>
  <section v-if="page" class="mx-auto flex w-full max-w-6xl flex-col gap-5 p-4">
    <header class="flex flex-wrap items-stretch gap-5">
      <div class="surround flex w-64">
        <ColourPatch :hex="page.look.hex" :name="page.name" class="min-h-32 flex-1" />
      </div>
      <div class="min-w-64 flex-1">
        <p><RouterLink to="/leftovers" class="link">Leftovers</RouterLink></p>
        <h1>{{ page.name }}</h1>
        <p class="figure text-3xl font-semibold">{{ page.volume.toFixed(0) }} ml</p>
        <p>
          <template v-if="page.kind === 'guessed'"
            ><span class="inline-block first-letter:uppercase">{{ page.from }}</span></template
          ><template v-else
            >{{ kinds[page.kind] }}<template v-if="page.from">, {{ page.from }}</template></template
          >, since {{ page.day }}.
          <RouterLink v-if="page.pour" :to="`/pours/${page.pour}/run`" class="underline underline-offset-4"
            >Its run</RouterLink
          >
        </p>
        <p class="font-semibold">{{ page.tired }}</p>
        <p class="figure text-slate">
          {{ heatedWords(page.heatsMost) }}, {{ page.doseMost.toFixed(0) }} min at 350 °F.
          <template v-if="page.worth > 0">Worth {{ page.worth.toFixed(2) }} {{ page.currency }}.</template>
        </p>
        <div class="mt-2 flex flex-wrap gap-3">
          <RouterLink :to="`/leftovers/${page.uid}/label`" class="button">Label</RouterLink>
          <KeepMenu what="leftover" :uid="page.uid" :name="page.name" :kept="page.kept" />
        </div>
      </div>
    </header>
    <ProblemNote :says="problem?.message ?? page.trouble" />

    <div class="grid gap-5 lg:grid-cols-2">
      <section v-if="page.kept === 'here'" class="flex flex-col gap-4 bg-white p-4">
        <h2>What is done with it</h2>
        <form class="flex flex-wrap items-end gap-3" @submit.prevent="use">
          <label class="w-36"
            >So much of it<input v-model="amount" class="field figure" type="text" placeholder="all"
          /></label>
          <button type="submit" class="button button-main">On the bench</button>
          <p class="basis-full text-slate">There it is topped up to a colour: only what goes in, in whole drops.</p>
        </form>
        <form class="flex flex-wrap items-end gap-3 border-t border-fog pt-3" @submit.prevent="mix">
          <ListPicker
            v-model="other"
            label="Another leftover"
            :options="others"
            class="w-72"
            @update:model-value="preview"
          />
          <label class="w-32"
            >So much of that<input v-model="much" class="field figure" type="text" placeholder="all" @change="preview"
          /></label>
          <button type="submit" class="button" :disabled="!other">Put them together</button>
          <div v-if="mixed" class="surround flex h-20 basis-full items-stretch" data-testid="mixed">
            <ColourPatch :hex="mixed.look.hex" :name="`${mixed.name}, together`" class="w-32" />
            <p class="panel figure flex-1 rounded-none! p-3">
              Together {{ mixed.volume.toFixed(0) }} ml. {{ mixed.tired }}
            </p>
          </div>
        </form>
        <label class="flex items-center gap-3 border-t border-fog pt-3"
          >Weighed or measured anew<span class="w-32"
            ><TypedField
              figure
              label="How much there is"
              :value="`${page.volume.toFixed(0)} ml`"
              @typed="(t) => change({ volume: t })"
          /></span>
        </label>
        <label class="block"
          >Note<TypedField label="Note" :value="page.note ?? ''" @typed="(t) => change({ note: t })"
        /></label>
      </section>
      <section class="bg-white p-4">
        <h2 class="pb-2">What is in it</h2>
        <div
          v-for="l in page.lines"
          :key="l.material"
          class="grid grid-cols-[1fr_6rem_4.5rem] items-center gap-2 border-t border-fog"
        >
          <RouterLink
            :to="`/shelf/${l.material}`"
            class="min-h-11 content-center underline decoration-haze underline-offset-4"
            >{{ l.name }}</RouterLink
          >
          <span class="figure text-right font-semibold">{{ l.says }}</span>
          <span class="figure text-right text-slate">{{
            l.share >= 0.001 ? `${(100 * l.share).toFixed(1)} %` : 'a trace'
          }}</span>
        </div>
        <p v-if="page.bleeds" class="pt-3">
          There is a dye in it: it colours whatever it is put to, and any layer beside it.
        </p>
      </section>
    </div>

    <section v-if="page.ages.length" class="surround p-4">
      <h2 class="pb-3">After more heats</h2>
      <ul class="grid gap-5 md:grid-cols-3">
        <li v-for="a in page.ages" :key="a.heats" data-testid="age">
          <BaitPatch :png="a.picture.png" :name="a.heats === 1 ? 'One heat more' : `${a.heats} heats more`" />
          <p>
            {{ a.differs.words || 'The same to the eye' }},
            <span class="figure">ΔE00 {{ a.differs.deltaE00.toFixed(1) }}</span
            >. {{ a.tired }}
          </p>
        </li>
      </ul>
      <p class="pt-3">
        Heat stabiliser slows it; a short burst more often is kinder than a long one. An estimate: nobody measured your
        plastic.
      </p>
    </section>
  </section>
  <section v-else-if="error" class="p-8"><ProblemNote :says="error.message" /></section>
</template>
