<script setup lang="ts">
import { computed } from 'vue'

// A piece of a photo around a place in it, enlarged.
const props = defineProps<{
  photo: { uid: string; widthPX: number; heightPX: number }
  name: string
  x: number
  y: number
  zoom: number
  radius?: number // px of the photo: a ring is drawn where it is read
}>()
const style = computed(() => ({
  backgroundImage: `url(/api/v1/photos/${props.photo.uid})`,
  backgroundSize: `${props.photo.widthPX * props.zoom}px auto`,
  backgroundPosition: `calc(50% + ${(props.photo.widthPX / 2 - props.x) * props.zoom}px) calc(50% + ${(props.photo.heightPX / 2 - props.y) * props.zoom}px)`,
}))
const ring = computed(() => ({
  width: `${2 * (props.radius ?? 0) * props.zoom}px`,
  height: `${2 * (props.radius ?? 0) * props.zoom}px`,
}))
</script>

<template>
  <div class="relative overflow-hidden bg-no-repeat" role="img" :aria-label="name" :style="style">
    <span
      v-if="radius"
      class="absolute top-1/2 left-1/2 -translate-x-1/2 -translate-y-1/2 rounded-full border border-white outline-1 outline-black"
      :style="ring"
    />
  </div>
</template>
