import type { Dose } from '@/api/client'

/** A dose as short as a list needs it: drops as a bare count, all else as it was said. */
export const amount = (d: Pick<Dose, 'amount' | 'typed'>): string => {
  if (d.amount.unit === 'drops' && !d.amount.high) return String(Number(d.amount.value.toFixed(2)))
  return d.typed || `${Number(d.amount.value.toFixed(4))} ${d.amount.unit}`
}
