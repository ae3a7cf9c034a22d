import { useEventListener } from '@vueuse/core'
import { onScopeDispose, ref, shallowRef, watch, type Ref } from 'vue'

import { api, ask, keyHeader, newKey, Problem, type BenchState, type Step } from '@/api/client'

/** How the cup is looked at. What is left out is as the target was read. */
export interface View {
  thickness?: number
  ground?: 'white' | 'dark' | 'grey' | 'against' | 'metal' | 'hand'
  light?: 'D65' | 'D50' | 'D75' | 'A' | 'LED3000S' | 'F2' | 'F11'
  state?: 'raw' | 'hot' | 'fresh' | 'rested'
  tilt?: number
  water?: 'clear' | 'green' | 'stained' | 'muddy'
  depth?: number
  distance?: number
  bait?: string
  baitView?: string
  judge?: boolean
}

/** How much of a flake one wants to see. */
export type Wish = 'sparse' | 'medium' | 'heavy'

type Job = { uid: string; tries?: number } & ({ steps: Step[] } | { step: Step } | { redo: boolean })

/**
 * One cup on the bench. Every step goes into an outbox that survives a reload, and is sent in order; sent twice
 * after a broken connection it still counts once, since it carries its own uid.
 */
export function useCup(cup: Ref<string>, view: Ref<View>) {
  const state = shallowRef<BenchState>()
  const problem = shallowRef<Problem>()
  const unreachable = ref(false)
  const merged = ref(false)
  const missing = ref(false)
  const waiting = ref(0)
  const sending = shallowRef<Job[]>([]) // what the program has not taken yet
  const aside = shallowRef<Job[]>([]) // what could not be taken, to be sent once more or let go

  const tries = 3
  let looks = 0
  let outbox: Job[] = []
  let wanted = false // a fresh look, at whatever the view is by then
  let busy = false
  let ended = false

  const key = () => `outbox:${cup.value}`
  const asideKey = () => `aside:${cup.value}`
  const keep = () => {
    waiting.value = outbox.length
    sending.value = [...outbox]
    for (const [name, list] of [
      [key(), outbox],
      [asideKey(), aside.value],
    ] as const)
      if (list.length) localStorage.setItem(name, JSON.stringify(list))
      else localStorage.removeItem(name)
  }
  const kept = (name: string): Job[] => {
    try {
      const list = JSON.parse(localStorage.getItem(name) ?? '[]') as unknown
      return Array.isArray(list) ? (list as Job[]).filter((j) => typeof j?.uid === 'string') : []
    } catch {
      return [] // damaged
    }
  }

  async function send(job: Job | undefined): Promise<BenchState> {
    const params = { path: { cup: cup.value }, query: view.value }
    const seen = state.value?.head ?? 0
    if (!job) return ask(api.GET('/cups/{cup}', { params }))
    const headers = { [keyHeader]: job.uid }
    if ('redo' in job) return ask(api.POST('/cups/{cup}/rewind', { params, headers, body: { seen, redo: job.redo } }))
    const steps = 'steps' in job ? job.steps : [job.step] // the single one is of an older version's outbox
    return ask(api.POST('/cups/{cup}/steps', { params, headers, body: { seen, steps } }))
  }

  async function pump() {
    if (busy || ended) return
    busy = true
    while (!ended && (outbox.length || wanted)) {
      const at = cup.value
      const job = state.value ? outbox[0] : undefined // nothing is sent before the cup has been seen
      if (!job) wanted = false
      try {
        const got = await send(job)
        if (at !== cup.value) continue
        state.value = got
        looks = 0
        merged.value ||= got.merged
        unreachable.value = false
        if (job) outbox.shift()
      } catch (e) {
        if (!(e instanceof Problem)) throw e
        if (at !== cup.value) continue
        if (e.unreachable) {
          unreachable.value = true
          if (!job) wanted = true
          await new Promise((wake) => setTimeout(wake, 1000))
          continue
        }
        if (e.stumbled) {
          // The program stumbles over this one. A few tries; then it is set aside and shown, and the rest goes on.
          unreachable.value = false
          if (!job) {
            if (++looks < tries) {
              wanted = true
              await new Promise((wake) => setTimeout(wake, 300 * looks))
              continue
            }
            looks = 0
            if (!state.value) missing.value = true
            problem.value = e
            continue
          }
          job.tries = (job.tries ?? 0) + 1
          keep()
          if (job.tries < tries) {
            await new Promise((wake) => setTimeout(wake, 300 * job.tries!))
            continue
          }
          outbox.shift()
          aside.value = [...aside.value, job]
          wanted = true
          keep()
          continue
        }
        if (job) outbox.shift() // it was refused: said at its field, and not sent again
        if (e.status === 409 && !e.asks) wanted = true
        if (e.status === 404) {
          missing.value = true
          outbox = []
        }
        problem.value = e
      }
      keep()
    }
    busy = false
  }

  const push = (job: Job) => {
    problem.value = undefined
    outbox.push(job)
    keep()
    void pump()
  }

  watch(
    cup,
    () => {
      state.value = problem.value = undefined
      missing.value = merged.value = false
      outbox = cup.value ? kept(key()) : []
      aside.value = cup.value ? kept(asideKey()) : []
      waiting.value = outbox.length
      sending.value = [...outbox]
      wanted = !!cup.value
      void pump()
    },
    { immediate: true },
  )
  watch(view, () => {
    wanted = !!cup.value
    void pump()
  })
  // Another device may have been at this cup meanwhile.
  const refresh = () => {
    if (document.visibilityState === 'visible' && cup.value) {
      wanted = true
      void pump()
    }
  }
  useEventListener(document, 'visibilitychange', refresh)
  onScopeDispose(() => (ended = true))

  return {
    state,
    problem,
    unreachable,
    merged,
    missing,
    waiting,
    refresh,
    aside,
    /** Drops of a material that were counted here and not taken by the program yet. */
    ahead: (material: string) =>
      sending.value
        .flatMap((j) => ('steps' in j ? j.steps : []))
        .reduce((n, s) => n + (s.kind === 'drip' && s.material === material ? (s.drops ?? 0) : 0), 0),
    take: (...steps: Step[]) => push({ uid: newKey(), steps: steps.map((s) => ({ ...s, atMS: Date.now() })) }),
    undo: () => push({ uid: newKey(), redo: false }),
    redo: () => push({ uid: newKey(), redo: true }),
    /** What was set aside: once more, or let go. */
    again: () => {
      outbox.push(...aside.value.map((j) => ({ ...j, tries: 0 })))
      aside.value = []
      keep()
      void pump()
    },
    letGo: () => {
      aside.value = []
      keep()
    },
  }
}
