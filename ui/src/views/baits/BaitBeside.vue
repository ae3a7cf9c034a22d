<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'

import { api, ask, type BaitPage } from '@/api/client'
import BaitPatch from '@/parts/BaitPatch.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import ListPicker from '@/parts/ListPicker.vue'
import ToggleChip from '@/parts/ToggleChip.vue'
import { useBaits, useReferences } from '@/use/lists'

// What the bait is held against: the reference's photo, another bait, an earlier version of itself, other waters.
const props = defineProps<{ page: BaitPage; look: Record<string, unknown> }>()
const what = ref<'' | 'photo' | 'bait' | 'version' | 'waters' | 'ages'>('')
const photo = ref('')
const other = ref('')
const version = ref('')
const { items: references } = useReferences(() => what.value === 'photo')
const { items: baits } = useBaits(() => what.value === 'bait')
const withPhoto = computed(() => (references.value ?? []).filter((r) => r.photo))
const shownPhoto = computed(() => withPhoto.value.find((r) => r.uid === photo.value) ?? withPhoto.value[0])
const others = computed(() => (baits.value ?? []).filter((b) => b.uid !== props.page.uid))
const shownOther = computed(() => other.value || others.value[0]?.uid || '')
const versions = computed(() =>
  Array.from({ length: Math.min(20, props.page.latest - 1) }, (_, i) => String(props.page.latest - 1 - i)),
)
const shownVersion = computed(() => version.value || versions.value[0] || '')
const { data: second } = useQuery({
  queryKey: ['beside', what, shownOther, shownVersion, computed(() => props.look), computed(() => props.page.uid)],
  queryFn: () =>
    ask(
      api.GET('/baits/{bait}', {
        params: {
          path: { bait: what.value === 'bait' ? shownOther.value : props.page.uid },
          query: {
            ...props.look,
            quick: true,
            ...(what.value === 'version' ? { revision: Number(shownVersion.value) } : {}),
          },
        },
      }),
    ),
  enabled: computed(
    () => (what.value === 'bait' && !!shownOther.value) || (what.value === 'version' && !!shownVersion.value),
  ),
  placeholderData: (was) => was,
})
const { data: waters } = useQuery({
  queryKey: ['waters', computed(() => [props.page.uid, props.page.revision, props.look])],
  queryFn: () =>
    ask(api.GET('/baits/{bait}/waters', { params: { path: { bait: props.page.uid }, query: props.look } })),
  enabled: computed(() => what.value === 'waters'),
  placeholderData: (was) => was,
})
const { data: ages, error: young } = useQuery({
  queryKey: ['ages', computed(() => [props.page.uid, props.page.revision, props.look])],
  queryFn: () => ask(api.GET('/baits/{bait}/ages', { params: { path: { bait: props.page.uid }, query: props.look } })),
  enabled: computed(() => what.value === 'ages'),
  placeholderData: (was) => was,
  retry: false,
})
const words = {
  photo: 'A reference photo',
  bait: 'Another bait',
  version: 'An earlier version',
  waters: 'Every water',
  ages: 'Two weeks on',
}
const toggle = (w: keyof typeof words) => (what.value = what.value === w ? '' : w)
</script>

<template>
  <div class="flex flex-col gap-3">
    <div class="flex flex-wrap items-center gap-2">
      <span>Beside it:</span>
      <ToggleChip v-for="(name, key) in words" :key="key" :on="what === key" @click="toggle(key)">{{
        name
      }}</ToggleChip>
      <ListPicker
        v-if="what === 'photo' && withPhoto.length"
        :model-value="shownPhoto!.uid"
        label="Reference"
        :options="withPhoto.map((r) => ({ key: r.uid, name: r.name }))"
        class="w-72"
        @update:model-value="(v: string) => (photo = v)"
      />
      <ListPicker
        v-if="what === 'bait' && others.length"
        :model-value="shownOther"
        label="Other bait"
        :options="others.map((b) => ({ key: b.uid, name: b.name }))"
        class="w-72"
        @update:model-value="(v: string) => (other = v)"
      />
      <ListPicker
        v-if="what === 'version' && versions.length"
        :model-value="shownVersion"
        label="Version"
        :options="versions.map((v) => ({ key: v, name: `version ${v}` }))"
        class="w-44"
        @update:model-value="(v: string) => (version = v)"
      />
    </div>
    <img
      v-if="what === 'photo' && shownPhoto"
      :src="`/api/v1/photos/${shownPhoto.photo!.uid}`"
      :alt="shownPhoto.name"
      class="max-h-96 w-full object-contain"
    />
    <p v-if="what === 'bait' && baits && !others.length">There is no other bait yet.</p>
    <p v-if="what === 'version' && !versions.length">This is its first version.</p>
    <BaitPatch
      v-if="(what === 'bait' || what === 'version') && second"
      :png="second.main.png"
      :name="what === 'bait' ? second.name : `Version ${shownVersion}`"
    />
    <div v-if="what === 'waters' && waters" class="grid grid-cols-2 gap-3" data-testid="waters">
      <BaitPatch v-for="w in waters.pictures" :key="w.name" :png="w.png" :name="w.name" />
    </div>
    <ProblemNote v-if="what === 'ages'" :says="young?.message" />
    <div v-if="what === 'ages' && ages" class="flex flex-col gap-3" data-testid="ages">
      <ul class="flex flex-col gap-1">
        <li v-for="s in ages.says" :key="s" class="says text-ink">{{ s }}</li>
      </ul>
      <div v-for="row in [ages.days, ages.heats]" :key="row[0]?.name" class="grid grid-cols-2 gap-3 sm:grid-cols-3">
        <BaitPatch v-for="w in row" :key="w.name" :png="w.png" :name="w.name">
          <span class="block text-sm leading-snug">{{
            w.says || (w.name === 'On the day' ? 'as it was poured' : 'the same to the eye')
          }}</span>
        </BaitPatch>
      </div>
      <p>Heats are those of its plastic, melted again and poured once more. Estimates: nobody measured your dyes.</p>
    </div>
  </div>
</template>
