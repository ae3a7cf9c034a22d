<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { RouterLink, useRouter } from 'vue-router'

import { api, ask, saysOf } from '@/api/client'
import BaitPatch from '@/parts/BaitPatch.vue'
import EmptyPlace from '@/parts/EmptyPlace.vue'
import ListMore from '@/parts/ListMore.vue'
import ListPicker from '@/parts/ListPicker.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import ToggleChip from '@/parts/ToggleChip.vue'
import { useBaits, useCups } from '@/use/lists'
import { useShapes } from '@/use/shop'

// The baits that are being designed, and the way to molds and sheets.
const router = useRouter()
const client = useQueryClient()
const away = ref(false)
const { items: baits, more, reading, next } = useBaits(true, () => away.value)
const { items: cups } = useCups()
const { data: shapes } = useShapes()
const chosenCup = ref('')
const chosenMold = ref('')
const cup = computed({ get: () => chosenCup.value || cups.value?.[0]?.uid || '', set: (v) => (chosenCup.value = v) })
const mold = computed({
  get: () => chosenMold.value || shapes.value?.[0]?.key || '',
  set: (v) => (chosenMold.value = v),
})
const says = ref('')
const widest = computed(() => Math.max(...(baits.value ?? []).map((b) => b.picture.widthPX / b.picture.pxPerMM)))

async function begin(way: string) {
  try {
    const b = await ask(api.POST('/baits', { body: { cup: cup.value, mold: mold.value, way } }))
    await client.invalidateQueries({ queryKey: ['baits'] })
    await router.push(`/baits/${b.uid}`)
  } catch (e) {
    says.value = saysOf(e)
  }
}
</script>

<template>
  <section class="surround flex-1 p-4">
    <div class="flex flex-wrap items-center gap-3 pb-4">
      <h1 class="mr-auto">Baits</h1>
      <ToggleChip :on="away" @click="away = !away">What was put away</ToggleChip>
      <RouterLink to="/molds" class="button">Molds</RouterLink>
      <RouterLink v-if="cup" :to="`/sheet?cup=${cup}`" class="button">One colour, every bait</RouterLink>
      <RouterLink :to="`/sheet?bait=${mold}`" class="button">Every colour, one bait</RouterLink>
    </div>
    <div class="panel mb-5 flex flex-wrap items-center gap-3 p-3">
      <span class="font-medium">A new bait</span>
      <ListPicker
        v-if="cups?.length"
        v-model="cup"
        label="Cup"
        :options="cups.map((c) => ({ key: c.uid, name: c.name }))"
        class="w-72"
      />
      <ListPicker v-if="shapes" v-model="mold" label="Mold" :options="shapes" class="w-60" />
      <button type="button" class="button" @click="begin('single')">One colour</button>
      <button type="button" class="button" @click="begin('laminate')">Back and belly</button>
      <button type="button" class="button" @click="begin('pour')">Hand-poured layers</button>
      <ProblemNote :says="says" class="basis-full" />
    </div>
    <p v-if="baits && !baits.length && away">No bait was put away.</p>
    <EmptyPlace v-else-if="baits && !baits.length" picture="bait">
      No bait yet. Take a cup from the bench and a mold, and say how they are to lie in each other.
    </EmptyPlace>
    <ul class="grid grid-cols-1 gap-5 sm:grid-cols-2 lg:grid-cols-3 xl:grid-cols-4">
      <li v-for="b in baits" :key="b.uid">
        <RouterLink :to="`/baits/${b.uid}`">
          <BaitPatch :png="b.picture.png" :name="b.name" :scale="b.picture" :widest-m-m="widest"
            ><span class="block"
              >{{ b.moldName }}, {{ b.cups.length === 1 ? 'one cup' : `${b.cups.length} cups` }}</span
            >
          </BaitPatch>
        </RouterLink>
      </li>
    </ul>
    <ListMore class="mt-4 text-ink" :more="more" :reading="reading" @next="next" />
  </section>
</template>
