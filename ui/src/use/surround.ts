import { useLocalStorage } from '@vueuse/core'
import { computed, watchEffect } from 'vue'

export const surrounds = ['medium', 'light', 'dark'] as const
export type Surround = (typeof surrounds)[number]

const stored = useLocalStorage<string>('surround', 'medium')
export const surround = computed<Surround>({
  get: () => surrounds.find((s) => s === stored.value) ?? 'medium',
  set: (s) => (stored.value = s),
})

watchEffect(() => {
  document.documentElement.dataset.surround = surround.value
})
