import { useEventListener, useIntervalFn } from '@vueuse/core'
import { computed, onScopeDispose, ref, shallowRef, watch, type Ref } from 'vue'

import { api, ask, keyHeader, newKey, Problem, saysOf, type RunPage, type Schemas, type Step } from '@/api/client'

type Told = Schemas['TellRunInBody']
type Job = { uid: string; tries?: number } & ({ event: Told } | { cup: string; steps: Step[] } | { back: number })

/**
 * A run that is followed. What is told goes into an outbox that survives a reload and a dead battery, and is sent in order; sent twice it
 * counts once. What another device does is seen within seconds.
 */
export function useRun(run: Ref<string>) {
  const page = shallowRef<RunPage>()
  const problem = shallowRef<Problem>()
  const unreachable = ref(false)
  const missing = ref('')
  const outbox = shallowRef<Job[]>([])
  let busy = false
  let ended = false

  const name = () => `run:${run.value}`
  function keep() {
    if (outbox.value.length) localStorage.setItem(name(), JSON.stringify(outbox.value))
    else localStorage.removeItem(name())
  }
  function kept(): Job[] {
    try {
      const list = JSON.parse(localStorage.getItem(name()) ?? '[]') as unknown
      return Array.isArray(list) ? (list as Job[]).filter((j) => typeof j?.uid === 'string') : []
    } catch {
      return [] // damaged
    }
  }
  const look = () => ask(api.GET('/pours/{pour}/run', { params: { path: { pour: run.value } } }))

  async function send(job: Job): Promise<RunPage> {
    const params = { path: { pour: run.value } }
    const headers = { [keyHeader]: job.uid }
    if ('event' in job) return ask(api.POST('/pours/{pour}/run/events', { params, headers, body: job.event }))
    if ('back' in job) return ask(api.POST('/pours/{pour}/run/back', { params, headers, body: { seen: job.back } }))
    const seen = page.value?.cups.find((c) => c.uid === job.cup)?.head ?? 0
    await ask(
      api.POST('/cups/{cup}/steps', { params: { path: { cup: job.cup } }, headers, body: { seen, steps: job.steps } }),
    )
    return look()
  }

  async function pump() {
    if (busy || ended) return
    busy = true
    while (!ended && outbox.value.length) {
      const at = run.value
      const job = outbox.value[0]!
      try {
        const got = await send(job)
        if (at !== run.value) break
        page.value = got
        unreachable.value = false
        outbox.value = outbox.value.slice(1)
      } catch (e) {
        if (!(e instanceof Problem)) throw e
        if (e.unreachable) {
          unreachable.value = true
          await new Promise((wake) => setTimeout(wake, 1000))
          continue
        }
        unreachable.value = false
        const tries = (job.tries ?? 0) + 1
        if (e.stumbled && tries < 3) {
          outbox.value = [{ ...job, tries }, ...outbox.value.slice(1)]
          continue
        }
        problem.value = e
        outbox.value = outbox.value.slice(1)
        await refresh()
      }
      keep()
    }
    busy = false
  }
  async function refresh() {
    try {
      const at = run.value
      const got = await look()
      if (at === run.value && !outbox.value.length) page.value = got
      unreachable.value = false
      missing.value = ''
    } catch (e) {
      if (e instanceof Problem && e.unreachable) unreachable.value = true
      else if (!page.value) missing.value = saysOf(e)
    }
  }
  type Unkeyed<T> = T extends unknown ? Omit<T, 'uid'> : never
  function put(job: Unkeyed<Job>) {
    problem.value = undefined
    outbox.value = [...outbox.value, { uid: newKey(), ...job }]
    keep()
    void pump()
  }

  watch(
    run,
    () => {
      page.value = undefined
      outbox.value = kept()
      void refresh().then(pump)
    },
    { immediate: true },
  )
  const { pause } = useIntervalFn(() => {
    if (page.value?.run !== 'done' && !busy) void refresh()
  }, 4000)
  useEventListener(window, 'online', () => void pump())
  onScopeDispose(() => {
    ended = true
    pause()
  })

  return {
    page,
    problem,
    unreachable,
    missing,
    waiting: computed(() => outbox.value.length),
    refresh,
    tell: (event: Told) => put({ event: { atMS: Date.now(), ...event } }),
    drip: (cup: string, material: string, drops: number) =>
      put({ cup, steps: [{ kind: 'drip', material, drops, atMS: Date.now() }] }),
    add: (cup: string, material: string, typed: string) =>
      put({ cup, steps: [{ kind: 'add', material, typed, atMS: Date.now(), sure: true }] }),
    back: () => put({ back: page.value?.last ?? 0 }),
    /** Drops that were tapped and not taken yet. */
    pending: (cup: string, material: string) =>
      outbox.value.reduce(
        (sum, j) =>
          'steps' in j && j.cup === cup && j.steps[0]?.material === material ? sum + (j.steps[0].drops ?? 0) : sum,
        0,
      ),
  }
}

let audio: AudioContext | undefined
/** Two tones, high enough for a room with a fan. It is silent until something was tapped, as browsers want it. */
export function ring() {
  try {
    audio ??= new AudioContext()
    const from = audio.currentTime
    for (const [at, hertz] of [
      [0, 880],
      [0.25, 1175],
      [0.7, 880],
      [0.95, 1175],
    ] as const) {
      const tone = audio.createOscillator()
      const loud = audio.createGain()
      tone.frequency.value = hertz
      loud.gain.setValueAtTime(0.25, from + at)
      loud.gain.exponentialRampToValueAtTime(0.001, from + at + 0.22)
      tone.connect(loud).connect(audio.destination)
      tone.start(from + at)
      tone.stop(from + at + 0.23)
    }
  } catch {
    // no sound here; the clock on the screen counts on
  }
}
