import { onScopeDispose, ref, shallowRef, watch, type Ref } from 'vue'

import { api, ask, Problem, type BenchState, type Step } from '@/api/client'

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
  baitView?: 'side' | 'back' | 'belly'
}

/** How much of a flake one wants to see. */
export type Wish = 'sparse' | 'medium' | 'heavy'

type Job = { uid: string; step: Step } | { uid: string; redo: boolean }

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

  let outbox: Job[] = []
  let wanted = false // a fresh look, at whatever the view is by then
  let busy = false
  let ended = false

  const key = () => `outbox:${cup.value}`
  const keep = () => {
    waiting.value = outbox.length
    if (outbox.length) localStorage.setItem(key(), JSON.stringify(outbox))
    else localStorage.removeItem(key())
  }

  async function send(job: Job | undefined): Promise<BenchState> {
    const params = { path: { cup: cup.value }, query: view.value }
    const seen = state.value?.head ?? 0
    if (!job) return ask(api.GET('/bench/{cup}', { params }))
    if ('redo' in job)
      return ask(api.POST('/bench/{cup}/rewind', { params, body: { uid: job.uid, seen, redo: job.redo } }))
    return ask(api.POST('/bench/{cup}/steps', { params, body: { uid: job.uid, seen, step: job.step } }))
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
      outbox = cup.value ? (JSON.parse(localStorage.getItem(key()) ?? '[]') as Job[]) : []
      waiting.value = outbox.length
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
  document.addEventListener('visibilitychange', refresh)
  onScopeDispose(() => {
    ended = true
    document.removeEventListener('visibilitychange', refresh)
  })

  return {
    state,
    problem,
    unreachable,
    merged,
    missing,
    waiting,
    refresh,
    take: (step: Step) => push({ uid: crypto.randomUUID(), step: { ...step, atMS: Date.now() } }),
    undo: () => push({ uid: crypto.randomUUID(), redo: false }),
    redo: () => push({ uid: crypto.randomUUID(), redo: true }),
  }
}
