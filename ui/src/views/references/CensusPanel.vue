<script setup lang="ts">
import { computed, ref, shallowRef } from 'vue'

import { api, ask, Problem, type Found, type ReferenceCard } from '@/api/client'
import ColourPatch from '@/parts/ColourPatch.vue'
import ProblemNote from '@/parts/ProblemNote.vue'

// How long a millimetre is in the photo, and the flake in a region of it: found, counted and measured.
const props = defineProps<{ reference: ReferenceCard }>()
const emit = defineEmits<{ set: [reference: ReferenceCard]; found: [found: Found | undefined] }>()
const doing = ref<'scale' | 'count'>()
const length = ref('50 mm')
const places = ref<[number, number][]>([])
const found = shallowRef<Found>()
const says = ref('')
const busy = ref(false)
const words = {
  scale: ['Point at one end of something whose length is known.', 'Point at its other end.'],
  count: ['Point at one corner of an even region with flake in it.', 'Point at the corner across.'],
}
const asks = computed(() => (doing.value ? words[doing.value][places.value.length] : undefined))
const inches = (v: number) => v.toFixed(3).replace(/^0/, '')

function begin(what: 'scale' | 'count') {
  doing.value = doing.value === what ? undefined : what
  places.value = []
  says.value = ''
}
/** A place of the photo that was pointed at; true if it was asked for. */
function take(x: number, y: number): boolean {
  if (!asks.value) return false
  places.value.push([x, y])
  if (!asks.value) void send()
  return true
}
defineExpose({ take })

async function send() {
  const [a, b] = places.value as [[number, number], [number, number]]
  const path = { reference: props.reference.uid }
  busy.value = true
  says.value = ''
  try {
    if (doing.value === 'scale') {
      emit(
        'set',
        await ask(
          api.POST('/references/{reference}/scale', { params: { path }, body: { a, b, length: length.value } }),
        ),
      )
    } else {
      const query = { x0: a[0], y0: a[1], x1: b[0], y1: b[1] }
      found.value = await ask(api.GET('/references/{reference}/census', { params: { path, query } }))
      emit('found', found.value)
    }
    doing.value = undefined
  } catch (e) {
    says.value = e instanceof Problem ? e.message : String(e)
  } finally {
    places.value = []
    busy.value = false
  }
}
function clear() {
  found.value = undefined
  emit('found', undefined)
}
</script>

<template>
  <section class="flex flex-col gap-3 border-t border-haze pt-4" data-testid="census">
    <h2>Scale and flake</h2>
    <p>
      <template v-if="reference.pxPerMM"
        >A millimetre is <span class="figure">{{ reference.pxPerMM.toFixed(1) }} px</span> here.</template
      >
      <template v-else>Nobody said yet how long a millimetre is in this photo.</template>
    </p>
    <div class="flex flex-wrap items-center gap-2">
      <button
        type="button"
        class="button px-3"
        :class="doing === 'scale' && 'border-2 border-ink'"
        @click="begin('scale')"
      >
        Set the scale
      </button>
      <button
        type="button"
        class="button px-3"
        :class="doing === 'count' && 'border-2 border-ink'"
        :disabled="!reference.pxPerMM"
        @click="begin('count')"
      >
        Count the flake
      </button>
      <button v-if="found" type="button" class="button px-3" @click="clear">Take the marks away</button>
    </div>
    <label v-if="doing === 'scale'" class="flex items-center gap-2">
      <span class="flex-1">How long it is</span>
      <input v-model="length" class="field figure w-32!" data-testid="scale-length" />
    </label>
    <p v-if="doing" class="says">{{ busy ? 'Counting…' : asks }}</p>
    <ProblemNote :says="says" />
    <template v-if="found">
      <p v-if="!found.classes.length">No flake stands out from the base here.</p>
      <div v-for="(c, i) in found.classes" :key="i" class="flex items-center gap-3" data-flake-class>
        <ColourPatch :hex="c.hex" :name="`Flake ${i + 1}`" class="h-11 w-11" />
        <p>
          <span class="figure">{{ inches(c.sizeIN) }} in</span>, <span class="figure">{{ c.count }}</span> pieces,
          <span class="figure">{{ c.perCM2.toFixed(0) }}</span> a cm²
        </p>
      </div>
      <ProblemNote :says="found.warning" />
    </template>
  </section>
</template>
