import { ref, watchEffect } from 'vue'

export const surrounds = ['medium', 'light', 'dark'] as const
export type Surround = (typeof surrounds)[number]

const stored = localStorage.getItem('surround') as Surround | null
export const surround = ref<Surround>(stored && surrounds.includes(stored) ? stored : 'medium')

watchEffect(() => {
  document.documentElement.dataset.surround = surround.value
  localStorage.setItem('surround', surround.value)
})
