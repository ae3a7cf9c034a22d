<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { RouterLink, useRouter } from 'vue-router'

import { api, ask, bytesOf, Problem, saysOf } from '@/api/client'
import ListPicker from '@/parts/ListPicker.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import { useShapes } from '@/use/shop'

// The molds that the shop owns.
const router = useRouter()
const client = useQueryClient()
const { data: molds } = useQuery({ queryKey: ['molds'], queryFn: () => ask(api.GET('/molds')) })
const { data: shapes } = useShapes()
const name = ref('')
const shape = ref('paddle-minnow')
const says = ref('')

async function add() {
  try {
    const m = await ask(api.POST('/molds', { body: { name: name.value, shape: shape.value } }))
    await client.invalidateQueries({ queryKey: ['molds'] })
    await client.invalidateQueries({ queryKey: ['shapes'] })
    await router.push(`/molds/${m.uid}`)
  } catch (e) {
    says.value = saysOf(e)
  }
}
// A bait of one's own from a file: an STL or an OBJ.
const long = ref('')
const busy = ref(false)
async function bringIn(e: Event) {
  const input = e.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = '' // so that the same file can be taken again
  says.value = ''
  if (!file) return
  busy.value = true
  try {
    const query = { name: name.value || file.name.replace(/\.\w+$/, '').slice(0, 80), length: long.value }
    const m = await ask(api.POST('/molds/from-file', { params: { query }, ...bytesOf(file) }))
    await client.invalidateQueries({ queryKey: ['molds'] })
    await client.invalidateQueries({ queryKey: ['shapes'] })
    await router.push(`/molds/${m.uid}`)
  } catch (err) {
    says.value = err instanceof Problem ? err.message : String(err)
  }
  busy.value = false
}
</script>

<template>
  <section class="surround flex-1 p-4">
    <div class="flex flex-wrap items-center gap-3 pb-4">
      <h1 class="mr-auto">Molds</h1>
      <RouterLink to="/baits" class="button">To the baits</RouterLink>
    </div>
    <form class="panel mb-5 flex flex-wrap items-center gap-3 p-3" @submit.prevent="add">
      <span class="font-medium">A mold of yours</span>
      <input v-model="name" class="field max-w-72" placeholder="What you call it" aria-label="Name of the mold" />
      <ListPicker
        v-model="shape"
        label="Shape"
        :options="[
          ...(shapes ?? []).filter((s) => !s.own),
          { key: 'own', name: 'Measures of its own' },
          { key: 'step-chip', name: 'Step chip' },
        ]"
        class="w-64"
      />
      <button type="submit" class="button button-main">Add it</button>
      <span class="basis-full border-t border-haze max-sm:hidden" />
      <span class="font-medium">Or a bait you drew</span>
      <input
        v-model="long"
        class="field max-w-44"
        placeholder="as long as drawn"
        aria-label="How long the bait is, such as 4 in"
      />
      <label class="button cursor-pointer" :class="busy && 'opacity-50'">
        {{ busy ? 'Reading it…' : 'Bring in its STL or OBJ' }}
        <input
          type="file"
          class="sr-only"
          accept=".stl,.obj,model/stl"
          :disabled="busy"
          data-testid="body"
          @change="bringIn"
        />
      </label>
      <ProblemNote :says="says" class="basis-full" />
    </form>
    <p v-if="molds && !molds.length">No mold yet. Any of the built-in shapes can be used until you add your own.</p>
    <ul class="grid grid-cols-1 gap-5 sm:grid-cols-2 lg:grid-cols-3">
      <li v-for="m in molds" :key="m.uid" :data-mold="m.uid">
        <RouterLink :to="`/molds/${m.uid}`" class="block">
          <img :src="m.picture.png" :alt="`${m.name}, in plain smoke`" class="w-full" />
          <p class="font-medium">{{ m.name }}{{ m.retired ? ', put away' : '' }}</p>
          <p class="leading-tight">{{ m.says }}.</p>
          <p>
            <span class="figure">{{ m.card.volumeML.toFixed(1) }} ml</span> a bait,
            <span class="figure">{{ m.shotML.toFixed(0) }} ml</span> a filling
          </p>
        </RouterLink>
      </li>
    </ul>
  </section>
</template>
