<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'

import { api, ask } from '@/api/client'
import KeepMenu from '@/parts/KeepMenu.vue'
import ListPicker from '@/parts/ListPicker.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import TypedField from '@/parts/TypedField.vue'
import { thickness } from '@/use/amount'
import { useBait } from '@/use/bait'
import { useCups, useRecipeChoices } from '@/use/lists'
import { useShapes, useShop } from '@/use/shop'

import BaitBeside from './BaitBeside.vue'
import BaitLook from './BaitLook.vue'
import BaitParts from './BaitParts.vue'
import BaitPicture from './BaitPicture.vue'
import BaitTells from './BaitTells.vue'

// A bait in the hand: its cups, how they lie in it, and what it will look like.
const route = useRoute()
const router = useRouter()
const { data: shop } = useShop()
const { data: shapes } = useShapes()
const { items: bench } = useCups()
const { items: recipes } = useRecipeChoices(true)
const uid = computed(() => route.params.bait as string)
const { page, look, see, set, refresh, glance, undo, back, problem, gone, file, quick } = useBait(uid)
const mold = computed({ get: () => page.value?.mold ?? '', set: (v: string) => void set('mold', v) })
const whole = computed(() =>
  (page.value?.ways ?? []).filter((w) => ['single', 'laminate', 'three', 'pour'].includes(w.key)),
)

function move(field: string, typed: string, done: boolean) {
  if (done) void set(field, typed)
  else glance({}, field, typed)
}
async function passes(material: string, grade: string) {
  const m = await ask(api.GET('/molds/{mold}', { params: { path: { mold: mold.value } } }))
  await ask(
    api.PATCH('/molds/{mold}', {
      params: { path: { mold: mold.value } },
      body: { field: `passes.${material}`, typed: grade, seen: m.revision },
    }),
  )
  refresh()
}
const saysAt = (key: string) => (problem.value?.at === key ? problem.value.message : undefined)
</script>

<template>
  <section v-if="page && shop" class="grid flex-1 grid-cols-1 lg:grid-cols-[1fr_25rem]">
    <div class="surround flex min-w-0 flex-col gap-3 p-4">
      <BaitLook :look="look" :shop="shop" :page="page" @see="see" />
      <div class="-mx-4 max-sm:px-4" :style="{ background: page.main.paper }">
        <BaitPicture
          class="mx-auto max-w-5xl"
          :page="page"
          :view="look.view"
          :quick="quick"
          @turned="(view) => see({ view })"
          @move="move"
        />
      </div>
      <div class="grid grid-cols-2 gap-3 sm:grid-cols-4">
        <figure v-for="v in page.views" :key="v.key">
          <button type="button" class="w-full" :aria-label="`${v.name}, large`" @click="see({ view: v.key ?? '' })">
            <img :src="v.png" :alt="v.name" class="w-full" />
          </button>
          <figcaption>{{ v.name }}</figcaption>
        </figure>
      </div>
      <BaitBeside :page="page" :look="look" />
      <div class="panel p-4">
        <BaitTells :page="page" :problem="problem" @set="set" @passes="passes" />
      </div>
    </div>
    <div class="flex flex-col gap-4 border-l border-haze bg-mist p-4">
      <div>
        <TypedField label="Name of the bait" :value="page.name" :says="saysAt('name')" @typed="(t) => set('name', t)" />
        <ProblemNote :says="saysAt('name')" />
      </div>
      <div class="flex gap-2">
        <ListPicker v-model="mold" label="Mold" :options="shapes ?? []" class="min-w-0 flex-1" />
        <RouterLink v-if="page.moldCard.own" :to="`/molds/${page.mold}`" class="button">The mold</RouterLink>
        <RouterLink :to="`/pours?bait=${page.uid}`" class="button">Pour it</RouterLink>
      </div>
      <p>
        <span class="figure">{{ page.moldCard.volumeML.toFixed(1) }} ml</span> a bait,
        {{ thickness(page.moldCard.thickestMM, page.moldCard.thinnestMM) }}
      </p>
      <ProblemNote :says="problem && ['mold', ''].includes(problem.at) ? problem.message : undefined" />
      <div class="flex flex-wrap gap-2">
        <button
          v-for="w in whole"
          :key="w.key"
          type="button"
          class="button px-3"
          :title="w.about"
          @click="set('way', w.key)"
        >
          {{ w.name }}
        </button>
      </div>
      <BaitParts :page="page" :bench="bench ?? []" :recipes="recipes ?? []" :problem="problem" @set="set" />
      <div class="flex flex-wrap gap-2">
        <button type="button" class="button" :disabled="!back.length" @click="undo">Undo</button>
        <a class="button" :href="file('picture')" download>Save the picture</a>
        <a v-if="page.strip" class="button" :href="file('strip')" download>Strip in true size</a>
        <KeepMenu
          what="bait"
          :uid="uid"
          :name="page.name"
          :kept="page.kept"
          right
          @renamed="refresh"
          @gone="router.push('/baits')"
        />
      </div>
      <p class="text-slate">
        Predicted, an estimate. Hot plastisol burns and sticks: gloves, sleeves, eye protection, dry molds.
      </p>
    </div>
  </section>
  <section v-else class="surround flex-1 p-4"><ProblemNote class="text-ink" :says="gone" /></section>
</template>
