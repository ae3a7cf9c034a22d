/** How often plastic was hot, in words. */
export function heatedWords(times: number): string {
  const n = Math.round(times)
  return n < 1 ? 'Never heated' : n === 1 ? 'Heated once' : n === 2 ? 'Heated twice' : `Heated ${n} times`
}
