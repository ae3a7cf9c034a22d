<script setup lang="ts">
import type { BaitPage } from '@/api/client'
import FieldRow from '@/parts/FieldRow.vue'
import ListPicker from '@/parts/ListPicker.vue'
import type { FieldProblem } from '@/use/bait'

// What is to be known of a bait: what shows through, what goes in first, how it lies in water, whether its flake passes.
defineProps<{ page: BaitPage; problem?: FieldProblem | undefined }>()
const emit = defineEmits<{ set: [field: string, typed: string]; passes: [material: string, grade: string] }>()
const grades = [
  { key: 'fits', name: 'fits' },
  { key: 'folds', name: 'folds through' },
  { key: 'blocks', name: 'will block' },
]
</script>

<template>
  <div class="grid gap-x-8 gap-y-4 md:grid-cols-2">
    <section v-if="page.room.length" class="md:col-span-2">
      <p v-for="r in page.room" :key="r" class="says">{{ r }}</p>
    </section>
    <section>
      <h2>In the mold</h2>
      <ol class="flex list-decimal flex-col gap-1 pl-5">
        <li v-for="o in page.order" :key="o" data-order>{{ o }}</li>
      </ol>
      <p>In this mold {{ page.lies }}.</p>
    </section>
    <section v-if="page.apart.length || page.through.length">
      <h2>What shows</h2>
      <p v-for="s in page.apart" :key="s.says" class="first-letter:uppercase">
        {{ s.says }}, ΔE00 <span class="figure">{{ (s.deltaE00 ?? 0).toFixed(1) }}</span>.
      </p>
      <p v-for="s in page.through" :key="s.says">
        {{ s.says }} ΔE00 <span class="figure">{{ (s.deltaE00 ?? 0).toFixed(1) }}</span>.
      </p>
    </section>
    <section>
      <h2>In the water</h2>
      <p>
        Fresh: {{ page.fresh.says }}. Salt: {{ page.salt.says }}.
        <span class="figure">{{ page.fresh.massG.toFixed(1) }} g</span> in all.
      </p>
      <FieldRow
        v-for="f in page.hookFields"
        :key="f.key"
        :field="f"
        :problem="problem"
        @typed="(k, t) => emit('set', k, t)"
      />
    </section>
    <section v-if="page.flakes.length">
      <h2>Flake and gate</h2>
      <div
        v-for="f in page.flakes"
        :key="f.material"
        class="flex flex-wrap items-center gap-2"
        :data-flake="f.material"
      >
        <span class="flex-1">{{ f.name }}{{ f.own ? ', by you' : '' }}</span>
        <ListPicker
          v-if="page.moldCard.own"
          :model-value="f.grade"
          :label="`How ${f.name} goes through`"
          :options="grades"
          class="w-44"
          @update:model-value="(g: string) => emit('passes', f.material, g)"
        />
        <span v-else class="font-medium">{{ f.words }}</span>
        <p v-if="f.section" class="basis-full text-slate">{{ f.section }}.</p>
      </div>
    </section>
  </div>
</template>
