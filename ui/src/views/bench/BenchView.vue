<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'

import { api, ask, Problem } from '@/api/client'
import ListPicker from '@/parts/ListPicker.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import { useCup, type View } from '@/use/cup'
import { useShelf, useShop } from '@/use/shop'

import BottleRack from './BottleRack.vue'
import CupLines from './CupLines.vue'
import LookBeside from './LookBeside.vue'
import SaveDialog from './SaveDialog.vue'
import WedgeView from './WedgeView.vue'

const route = useRoute()
const router = useRouter()
const { data: shop } = useShop()
const shelf = useShelf()
const client = useQueryClient()

const cupUID = computed(() => (route.params.cup as string) || '')
const view = computed<View>(() => {
  const { t, ground, light } = route.query
  const v: View = {}
  if (Number(t) > 0) v.thickness = Number(t)
  if (ground) v.ground = ground as NonNullable<View['ground']>
  if (light) v.light = light as NonNullable<View['light']>
  return v
})
const cup = useCup(cupUID, view)
const state = cup.state
const saving = ref(false)
const emptyBench = ref('')

const see = (change: Record<string, string>) => router.replace({ query: { ...route.query, ...change } })
const ground = computed({ get: () => state.value?.look.ground ?? 'white', set: (g) => void see({ ground: g }) })
const light = computed({ get: () => state.value?.look.light ?? 'D65', set: (l) => void see({ light: l }) })

// Without a cup in the address: the one that was touched last, or a first one.
watch(
  cupUID,
  async (uid) => {
    if (uid) return
    emptyBench.value = ''
    try {
      const last = await ask(api.GET('/bench'))
      if (last.cup) await router.replace(`/bench/${last.cup}`)
      else await newCup()
    } catch (e) {
      emptyBench.value = e instanceof Problem ? e.message : String(e)
    }
  },
  { immediate: true },
)

async function newCup() {
  const made = await ask(api.POST('/bench', { params: { query: {} }, body: {} }))
  await router.push(`/bench/${made.uid}`)
}

function saved() {
  saving.value = false
  cup.refresh()
  void client.invalidateQueries({ queryKey: ['recipes'] })
}

function undoKeys(e: KeyboardEvent) {
  if (!(e.ctrlKey || e.metaKey) || e.target instanceof HTMLInputElement || e.target instanceof HTMLTextAreaElement)
    return
  if (e.key === 'z' && !e.shiftKey) cup.undo()
  else if (e.key === 'y' || (e.key === 'z' && e.shiftKey)) cup.redo()
  else return
  e.preventDefault()
}
</script>

<template>
  <section v-if="emptyBench || cup.missing.value" class="max-w-2xl p-8">
    <h1>{{ cup.missing.value ? 'This cup is not here' : 'The bench is empty' }}</h1>
    <ProblemNote v-if="emptyBench" class="mt-4" :says="emptyBench" />
    <p class="mt-4 flex flex-wrap gap-3">
      <RouterLink v-if="cup.missing.value" to="/bench" class="button button-main"
        >The cup that was touched last</RouterLink
      >
      <RouterLink to="/shelf" class="button button-main">Put bottles on the shelf</RouterLink>
      <RouterLink to="/recipes" class="button">Bring in a recipe file</RouterLink>
    </p>
  </section>

  <section v-else-if="state && shop" class="grid flex-1 lg:grid-cols-[1fr_27rem]" @keydown="undoKeys">
    <div class="surround flex min-w-0 flex-col gap-4 p-4">
      <div class="flex flex-wrap items-center gap-3">
        <div class="mr-auto min-w-0">
          <h1 class="truncate">{{ state.recipeName || 'New cup' }}</h1>
          <p v-if="cup.unreachable.value" role="status" class="font-semibold">
            Cloudburst does not answer. {{ cup.waiting.value }} of your taps wait here and are sent again.
          </p>
          <p v-else>
            {{
              state.recipeName ? (state.saved ? 'As saved' : 'Changed since it was saved') : 'Not saved as a recipe yet'
            }}
          </p>
        </div>
        <ListPicker v-model="ground" label="Ground" :options="shop.grounds as never" class="w-52" />
        <ListPicker v-model="light" label="Light" :options="shop.lights as never" class="w-52" />
      </div>
      <p v-if="cup.merged.value" class="says flex items-center justify-between text-ink" role="status">
        Another device is adding to this cup, too. Both are counted.
        <button type="button" class="link min-h-11 px-2" @click="cup.merged.value = false">Good</button>
      </p>
      <WedgeView :wedge="state.wedge" :shop="shop" :mm="state.look.thicknessMM" @mm="(mm) => see({ t: String(mm) })" />
      <LookBeside :state="state" @untarget="cup.take({ kind: 'untarget' })" />
    </div>

    <div class="flex min-w-0 flex-col border-l border-haze bg-mist lg:max-h-[calc(100dvh-3.5rem)]">
      <CupLines
        :state="state"
        :shelf="shelf.bottles.value"
        :problem="cup.problem.value"
        @step="cup.take"
        @undo="cup.undo"
        @redo="cup.redo"
        @save="saving = true"
        @fresh="newCup"
      />
      <BottleRack :bottles="shelf.bottles.value" @drip="(m) => cup.take({ kind: 'drip', material: m, drops: 1 })" />
    </div>
    <SaveDialog v-if="saving" :state="state" @close="saving = false" @saved="saved" />
  </section>
  <p v-else-if="cup.unreachable.value" class="p-8" role="status">Cloudburst does not answer. Trying again…</p>
</template>
