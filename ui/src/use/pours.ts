import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'

import { api, ask, problemOf, type Problem, type Schemas } from '@/api/client'

export type PourChange = Omit<Schemas['ChangePourInBody'], 'seen'>

/** A pour's page, and the way to change what is asked. What was refused stays said beside its field. */
export function usePour(uid: () => string) {
  const client = useQueryClient()
  const key = ['pours', uid]
  const query = useQuery({
    queryKey: key,
    queryFn: () => ask(api.GET('/pours/{pour}', { params: { path: { pour: uid() } } })),
  })
  const problem = ref<Problem>()
  const busy = ref(false)
  async function change(body: PourChange) {
    const seen = query.data.value?.revision ?? 0
    problem.value = undefined
    busy.value = true
    try {
      const page = await ask(api.PATCH('/pours/{pour}', { params: { path: { pour: uid() } }, body: { ...body, seen } }))
      client.setQueryData(['pours', uid()], page)
      await client.invalidateQueries({ queryKey: ['pours', 'list'] })
      return true
    } catch (e) {
      problem.value = problemOf(e)
      if (problem.value.status === 409) await query.refetch()
      return false
    } finally {
      busy.value = false
    }
  }
  return { page: query.data, error: query.error, problem, busy, change, refetch: query.refetch }
}

/** Minutes and seconds of a number of ticks, as a clock on the bench shows them. */
export function clock(seconds: number): string {
  const s = Math.max(0, Math.round(seconds))
  const h = Math.floor(s / 3600)
  const m = Math.floor((s % 3600) / 60)
  const pad = (n: number) => String(n).padStart(2, '0')
  return h ? `${h}:${pad(m)}:${pad(s % 60)}` : `${m}:${pad(s % 60)}`
}

/** A temperature in both. */
export const degrees = (c: number) => `${Math.round(c * 1.8 + 32)} °F (${Math.round(c)} °C)`
