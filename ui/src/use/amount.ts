import type { Dose } from '@/api/client'

/** A figure with as many places as anyone measures: 147.9, 26.4, 8.74, 0.031. */
export const figures = (v: number): string => {
  const places = v >= 10 ? 1 : v >= 1 ? 2 : 3
  return String(Number(v.toFixed(places)))
}

/** A dose as short as a list needs it: drops as a bare count, all else as it was said. */
export const amount = (d: Pick<Dose, 'amount' | 'typed'>): string => {
  if (d.amount.unit === 'drops' && !d.amount.high) return String(Number(d.amount.value.toFixed(2)))
  return d.typed || `${figures(d.amount.value)} ${d.amount.unit}`
}

/** The same by itself, where nothing beside it says what is counted. */
export const dose = (d: Pick<Dose, 'amount' | 'typed'>): string => {
  const says = amount(d)
  return d.amount.unit === 'drops' && !d.amount.high ? `${says} ${says === '1' ? 'drop' : 'drops'}` : says
}

/** A whole number that is never "-0". */
export const whole = (v: number): string => String(Math.round(v) || 0)

export const lab = (c: { L: number; a: number; b: number }): string => `L ${whole(c.L)} a ${whole(c.a)} b ${whole(c.b)}`

/** How thick a bait is, where it is thickest and thinnest; the same of both where it is even. */
export const thickness = (thick: number, thin: number): string => {
  if (Math.abs(thick - thin) < 0.5) return `${figures(thick)} mm thick all over`
  return `thick ${figures(thick)} mm, thin ${figures(thin)} mm`
}
