import type { Dose } from '@/api/client'

/** A figure with as many places as anyone measures: 147.9, 26.4, 8.74, 0.031. */
export const figures = (v: number): string => {
  const places = v >= 10 ? 1 : v >= 1 ? 2 : 3
  return String(Number(v.toFixed(places)))
}

/** Teaspoons in the fractions that spoons are made in; decimals where no spoon has it. */
function spoons(tsp: number): string {
  const parts = Math.round(tsp * 64)
  if (!parts || Math.abs(tsp * 64 - parts) > 1e-6) return `${figures(tsp)} tsp`
  let [top, den] = [parts % 64, 64]
  while (top && top % 2 === 0) [top, den] = [top / 2, den / 2]
  return [Math.floor(parts / 64) || '', top ? `${top}/${den}` : ''].filter(Boolean).join(' ') + ' tsp'
}

/** A dose as short as a list needs it: drops as a bare count, all else as it was said. */
export const amount = (d: Pick<Dose, 'amount' | 'typed'>): string => {
  if (d.amount.unit === 'drops' && !d.amount.high) return String(Number(d.amount.value.toFixed(2)))
  return d.typed || (d.amount.unit === 'tsp' ? spoons(d.amount.value) : `${figures(d.amount.value)} ${d.amount.unit}`)
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
