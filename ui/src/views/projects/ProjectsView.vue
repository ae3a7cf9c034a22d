<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'

import { api, ask, problemOf, type Problem } from '@/api/client'
import ColourPatch from '@/parts/ColourPatch.vue'
import EmptyPlace from '@/parts/EmptyPlace.vue'
import KeepMenu from '@/parts/KeepMenu.vue'
import ListMore from '@/parts/ListMore.vue'
import ListPicker from '@/parts/ListPicker.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import SheetDialog from '@/parts/SheetDialog.vue'
import ToggleChip from '@/parts/ToggleChip.vue'
import { useProjects, useReferences } from '@/use/lists'

// What test batches are poured after, and the way to a new one.
const route = useRoute()
const router = useRouter()
const client = useQueryClient()
const away = ref(false)
const { items: projects, more, reading, next } = useProjects(true, () => away.value)
const opening = ref(!!route.query.reference)
const { items: references } = useReferences(opening)
const choices = computed(() =>
  (references.value ?? []).filter((r) => r.pins.length).map((r) => ({ key: r.uid, name: r.name })),
)
const reference = ref((route.query.reference as string) ?? '')
const name = ref('')
const volume = ref('1/2 cup')
const problem = ref<Problem>()
const busy = ref(false)
watch(choices, (all) => {
  if (!all.some((c) => c.key === reference.value)) reference.value = all[0]?.key ?? ''
})

async function open() {
  busy.value = true
  problem.value = undefined
  try {
    const made = await ask(
      api.POST('/projects', { body: { name: name.value, reference: reference.value, volume: volume.value } }),
    )
    await client.invalidateQueries({ queryKey: ['projects'] })
    await router.push(`/projects/${made.uid}`)
  } catch (e) {
    problem.value = problemOf(e)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <section class="mx-auto w-full max-w-6xl p-4">
    <div class="flex flex-wrap items-center gap-3 pb-4">
      <h1 class="mr-auto">Projects</h1>
      <ToggleChip :on="away" @click="away = !away">What was put away</ToggleChip>
      <RouterLink to="/batches" class="button">All test batches</RouterLink>
      <button type="button" class="button button-main" @click="opening = true">Open a project</button>
    </div>
    <p v-if="projects && !projects.length && away" class="text-lg">No project was put away.</p>
    <EmptyPlace v-else-if="projects && !projects.length" picture="near">
      None yet. A project begins with a target: its parts are what you pour after, and every test batch brings you
      nearer.
    </EmptyPlace>
    <ul class="grid gap-4 sm:grid-cols-2 lg:grid-cols-3">
      <li v-for="p in projects" :key="p.uid" class="relative bg-white" data-testid="project">
        <RouterLink :to="`/projects/${p.uid}`" class="block">
          <img
            v-if="p.photo"
            :src="`/api/v1/photos/${p.photo}`"
            alt=""
            class="h-40 w-full bg-haze object-cover object-[50%_45%]"
          />
          <div v-else class="flex h-40">
            <template v-for="(part, i) in p.wanted" :key="i">
              <ColourPatch v-for="(s, k) in part" :key="k" :hex="s.hex" :name="p.parts[i]?.name ?? ''" class="flex-1" />
            </template>
          </div>
          <div class="p-3 pr-14">
            <h2>{{ p.name }}</h2>
            <p class="text-slate">
              {{ p.parts.map((x) => x.name).join(', ') }} ·
              {{ p.batches === 0 ? 'nothing poured yet' : p.batches === 1 ? 'one batch' : `${p.batches} batches` }}
            </p>
          </div>
        </RouterLink>
        <KeepMenu class="absolute right-2 bottom-2" what="project" :uid="p.uid" :name="p.name" :kept="p.kept" right />
      </li>
    </ul>
    <ListMore class="mt-4" :more="more" :reading="reading" @next="next" />

    <SheetDialog v-if="opening" title="Open a project" @close="opening = false">
      <form class="mt-4 flex flex-col gap-4" @submit.prevent="open">
        <p v-if="references && !choices.length">
          There is no target with a pin yet. <RouterLink to="/references" class="link">Pin one first</RouterLink>: each
          part that is pinned becomes a part of the project.
        </p>
        <div v-else>
          <span>What it is to look like</span>
          <ListPicker v-model="reference" label="What it is to look like" :options="choices" />
        </div>
        <label class="block"
          >What you call it<input
            v-model="name"
            type="text"
            class="field"
            autocomplete="off"
            placeholder="The target's own name"
            :aria-invalid="problem?.field === 'name'"
        /></label>
        <label class="block"
          >Plastisol for a test cup<input
            v-model="volume"
            type="text"
            class="field figure"
            autocomplete="off"
            :aria-invalid="problem?.field === 'volume'"
        /></label>
        <ProblemNote :says="problem?.message" />
        <div class="flex gap-3">
          <button type="submit" class="button button-main" :disabled="busy || !reference">Open it</button>
          <button type="button" class="button" @click="opening = false">Leave it</button>
        </div>
      </form>
    </SheetDialog>
  </section>
</template>
