<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { RouterLink, useRoute } from 'vue-router'

import { api, ask, type PartTrail } from '@/api/client'
import KeepMenu from '@/parts/KeepMenu.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import SheetDialog from '@/parts/SheetDialog.vue'
import { useBatches } from '@/use/lists'
import BatchList from '@/views/batches/BatchList.vue'

import NextPanel from './NextPanel.vue'
import ProjectSettings from './ProjectSettings.vue'
import TaughtList from './TaughtList.vue'
import TrailCards from './TrailCards.vue'
import TrailPlot from './TrailPlot.vue'

// A project: part by part how near each batch came, what to pour next, and what all of it taught.
const route = useRoute()
const uid = computed(() => route.params.project as string)
const { data: project, error } = useQuery({
  queryKey: ['projects', uid],
  queryFn: () => ask(api.GET('/projects/{project}', { params: { path: { project: uid.value } } })),
})
const { items: batches } = useBatches(
  () => '',
  () => false,
  () => uid.value,
)
const open = ref('')
const opened = computed(() => batches.value?.filter((b) => b.uid === open.value) ?? [])
const setting = ref(false)
// What the next step depends on: asked again when any of it changes.
const stamp = (t: PartTrail) =>
  JSON.stringify([
    project.value?.revision,
    t.tries.map((x) => [x.uid, x.deltaE00, x.by]),
    project.value?.teaches.map((x) => [x.revision, x.says]),
  ])
const unused = computed(() => project.value?.teaches.filter((x) => !x.accepted) ?? [])
const spent = computed(() => {
  const p = project.value
  if (!p || p.spentML === 0) return ''
  const money = p.spent > 0 ? `, ${p.spent.toFixed(2)} ${p.currency}` : ''
  return `${p.spentML.toFixed(0)} ml of plastic so far${money}`
})
</script>

<template>
  <section v-if="project" class="mx-auto flex w-full max-w-6xl flex-col gap-5 p-4">
    <header class="flex flex-wrap items-start gap-4">
      <RouterLink v-if="project.photo" :to="`/references/${project.reference}`" aria-label="To the target">
        <img
          :src="`/api/v1/photos/${project.photo}`"
          alt="The target's photo"
          class="h-24 w-48 bg-haze object-cover object-[50%_45%]"
        />
      </RouterLink>
      <div class="min-w-60 flex-1">
        <h1>{{ project.name }}</h1>
        <p v-if="project.notes" class="whitespace-pre-line">{{ project.notes }}</p>
        <p class="text-slate">
          <template v-if="spent">{{ spent }}. </template>Test cups of
          <span class="figure">{{ project.volume.typed }}</span>, up to
          <span class="figure">{{ project.most }}</span> bottles.
        </p>
      </div>
      <RouterLink v-if="!project.photo && project.reference" :to="`/references/${project.reference}`" class="button"
        >To the target</RouterLink
      >
      <button type="button" class="button" @click="setting = true">Change</button>
      <KeepMenu what="project" :uid="project.uid" :name="project.name" :kept="project.kept" right />
    </header>

    <section
      v-for="t in project.trail"
      :key="t.name"
      class="flex flex-col gap-4 rounded-2xl bg-mist p-4"
      :data-part="t.name"
    >
      <div class="flex flex-wrap items-baseline gap-x-3">
        <h2 class="text-xl">{{ t.name }}</h2>
        <p v-if="t.enough" class="font-semibold">inside the line</p>
        <RouterLink
          :to="`/batches/new?project=${project.uid}&part=${encodeURIComponent(t.name)}`"
          class="link ml-auto min-h-11 content-center"
          >Write down a batch</RouterLink
        >
      </div>
      <div class="grid gap-4 lg:grid-cols-[22rem_minmax(0,1fr)]">
        <TrailPlot :part="t" />
        <NextPanel :project="project.uid" :part="t.name" :stamp="stamp(t)" :unused="unused" />
      </div>
      <TrailCards v-if="t.tries.length" :part="t" :currency="project.currency" @open="(b) => (open = b)" />
    </section>

    <TaughtList v-if="project.teaches.length" :list="project.teaches" />

    <SheetDialog v-if="open" wide title="Test batch" @close="open = ''">
      <BatchList :batches="opened" named />
    </SheetDialog>
    <ProjectSettings v-if="setting" :project="project" @close="setting = false" />
  </section>
  <section v-else-if="error" class="p-8"><ProblemNote :says="error.message" /></section>
</template>
