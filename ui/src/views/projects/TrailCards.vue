<script setup lang="ts">
import type { PartTrail } from '@/api/client'
import SplitSwatch from '@/views/match/SplitSwatch.vue'

// Every batch of a part beside what is sought, in the order in which they were poured.
defineProps<{ part: PartTrail; currency: string }>()
defineEmits<{ open: [batch: string] }>()
const bys: Record<string, string> = {
  read: 'as read',
  moved: 'read otherwise, moved',
  predicted: 'predicted, not read yet',
}
</script>

<template>
  <ol class="grid gap-3 sm:grid-cols-2 xl:grid-cols-3">
    <li
      v-for="(t, i) in part.tries"
      :key="t.uid"
      class="surround flex min-w-0 flex-col gap-2 p-3"
      :class="i === part.best && 'outline-2 outline-offset-2 outline-ink'"
      data-try
    >
      <div class="flex items-baseline gap-2">
        <span class="font-semibold">{{ i + 1 }}</span>
        <span class="figure">{{ t.pouredOn }}</span>
        <span v-if="i === part.best" class="font-semibold">nearest</span>
        <span class="ml-auto"
          ><span class="figure text-2xl">{{ t.deltaE00.toFixed(1) }}</span> ΔE00</span
        >
      </div>
      <div class="flex gap-2">
        <img
          :src="`/api/v1/batches/${t.uid}/picture`"
          :alt="`A bait of batch ${i + 1}, as predicted`"
          class="h-20 w-40 shrink-0 object-contain"
          loading="lazy"
        />
        <div class="flex min-w-0 flex-1 gap-1">
          <SplitSwatch
            v-for="(j, k) in t.judged"
            :key="k"
            class="h-20 min-w-0 flex-1"
            :got="j.is.hex"
            :wanted="j.wanted.hex"
            :name="j.name"
          />
        </div>
      </div>
      <p class="leading-tight">
        {{ bys[t.by]
        }}<template v-for="(j, k) in t.judged" :key="k"
          ><template v-if="j.differs.words">; {{ j.differs.words }}</template></template
        >
      </p>
      <p v-if="t.says" class="leading-tight">“{{ t.says }}”</p>
      <p class="text-sm leading-tight">
        <template v-if="t.changed.length">{{ t.changed.join(', ') }}.</template>
        <template v-else>{{ t.went }}</template>
      </p>
      <p v-for="m in t.misfits" :key="m" class="says text-ink">{{ m }}</p>
      <p v-for="j in t.judged.filter((x) => x.says)" :key="j.name" class="text-sm leading-tight">{{ j.says }}</p>
      <div class="mt-auto flex items-center gap-2">
        <span class="mr-auto text-sm"
          ><span class="figure">{{ t.ml.toFixed(0) }}</span> ml<template v-if="t.price > 0"
            >, <span class="figure">{{ t.price.toFixed(2) }}</span> {{ currency }}</template
          ></span
        >
        <button type="button" class="button" @click="$emit('open', t.uid)">Readings and more</button>
      </div>
    </li>
  </ol>
</template>
