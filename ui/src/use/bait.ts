import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref, shallowRef, watch, type Ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { api, ask, problemOf, saysOf, type Problem, type BaitPage } from '@/api/client'

import { serial } from './serial'

export type FieldProblem = Problem & { at: string }

/** A bait's design: how it is looked at stands in the address, what is changed is kept at once. What is dragged or turned
 * is shown as it goes, one picture at a time, and kept when it is let go. */
export function useBait(uid: Ref<string>) {
  const route = useRoute()
  const router = useRouter()
  const client = useQueryClient()
  const page = shallowRef<BaitPage>()
  const problem = ref<FieldProblem>()
  const gone = ref('')
  const back = ref<number[]>([]) // versions that can be gone back to, newest last

  const q = (key: string) => (route.query[key] as string) ?? ''
  const look = computed(() => ({
    view: q('view'),
    even: q('even') === 'yes',
    ground: (q('ground') || 'white') as 'white',
    light: (q('light') || 'D65') as 'D65',
    ...(q('water') ? { water: q('water') as 'clear' } : {}),
    depth: Number(q('depth') || 1),
    distance: Number(q('distance') || 0.5),
    from: (q('from') || 'side') as 'side',
    cavity: Number(q('cavity') || 0),
    ...(q('state') ? { state: q('state') as 'fresh' } : {}),
  }))
  const path = computed(() => ({ bait: uid.value }))
  const see = (change: Record<string, string>) => router.replace({ query: { ...route.query, ...change } })

  const { keep, show } = serial()

  async function load() {
    try {
      page.value = await ask(api.GET('/baits/{bait}', { params: { path: path.value, query: look.value } }))
      gone.value = ''
    } catch (e) {
      gone.value = saysOf(e)
    }
  }
  watch([uid, () => JSON.stringify(look.value)], ([now], [was]) => {
    if (now !== was) back.value = []
    show(load)
  })
  show(load)

  /** Shows the main picture under a changed look or measure, without keeping anything. */
  const glance = (change: Record<string, string>, field?: string, typed?: string) =>
    show(async () => {
      const query = { ...look.value, ...change, quick: true }
      try {
        const seen = field
          ? await ask(
              api.PATCH('/baits/{bait}', {
                params: { path: path.value, query },
                body: { field, typed: typed!, seen: page.value!.revision, try: true },
              }),
            )
          : await ask(api.GET('/baits/{bait}', { params: { path: path.value, query } }))
        page.value = { ...page.value!, main: seen.main }
      } catch {
        // what is kept is told when it is let go
      }
    })

  const set = (field: string, typed: string, recipe?: string) =>
    keep(async () => {
      const seen = page.value!.revision
      try {
        page.value = await ask(
          api.PATCH('/baits/{bait}', {
            params: { path: path.value, query: look.value },
            body: { field, typed, seen, recipe },
          }),
        )
        back.value.push(seen)
        problem.value = undefined
        void client.invalidateQueries({ queryKey: ['baits'] })
        if (recipe) void client.invalidateQueries({ queryKey: ['cups'] })
      } catch (e) {
        problem.value = Object.assign(problemOf(e), { at: field })
        if (problem.value.status === 409) await load()
      }
    })

  const undo = () =>
    keep(async () => {
      const revision = back.value.pop()
      if (!revision) return
      try {
        page.value = await ask(
          api.POST('/baits/{bait}/back', {
            params: { path: path.value, query: look.value },
            body: { revision, seen: page.value!.revision },
          }),
        )
      } catch (e) {
        problem.value = Object.assign(problemOf(e), { at: '' })
      }
    })

  const file = (what: 'picture' | 'strip' | 'turn', change: Record<string, string> = {}) =>
    `/api/v1/baits/${uid.value}/${what}?` +
    new URLSearchParams(Object.entries({ ...look.value, ...change }).map(([k, v]) => [k, String(v)])).toString()

  /** Where a quick picture of another view is, while the bait is turned. */
  const quick = (view: string) => file('turn', { view })

  const refresh = () => show(load)

  return { page, look, see, set, refresh, glance, undo, back, problem, gone, file, quick }
}
