import { afterEach, beforeEach, expect, test, vi } from 'vitest'
import { effectScope, ref, type EffectScope } from 'vue'

import type { Step } from '@/api/client'

import { useCup, type View } from './cup'

// A program of our own to talk to: it keeps drops, takes every key once, and can be away, stumble or refuse.
interface Taken {
  key: string
  drops: number
}
let taken: Taken[]
let mood: (key: string) => number // the status to answer with
let scope: EffectScope

const reply = (status: number, body: unknown) =>
  new Response(JSON.stringify(body), { status, headers: { 'Content-Type': 'application/json' } })

async function program(request: Request): Promise<Response> {
  const state = () => ({ uid: 'a', head: taken.length, merged: false, cup: { doses: [] } })
  if (request.method === 'GET') {
    const status = mood('')
    if (status === 0) throw new TypeError('nobody answers')
    return status === 200 ? reply(200, state()) : reply(status, { detail: 'no' })
  }
  const key = request.headers.get('Idempotency-Key')!
  const status = mood(key)
  if (status === 0) throw new TypeError('nobody answers')
  if (status !== 200 && status !== -1)
    return reply(status, { detail: 'no', errors: [{ message: 'no', location: 'body.typed' }] })
  const { steps } = (await request.json()) as { steps: Step[] }
  if (!taken.some((t) => t.key === key)) taken.push({ key, drops: steps[0]?.drops ?? 0 })
  if (status === -1) throw new TypeError('the answer is lost') // taken all the same
  return reply(200, state())
}

beforeEach(() => {
  localStorage.clear()
  taken = []
  mood = () => 200
  vi.useFakeTimers({ shouldAdvanceTime: true, advanceTimeDelta: 50 })
  vi.stubGlobal('fetch', program)
  scope = effectScope()
})
afterEach(() => {
  scope.stop()
  vi.useRealTimers()
  vi.unstubAllGlobals()
})

const open = () => scope.run(() => useCup(ref('a'), ref<View>({})))!
const drip = (drops: number): Step => ({ kind: 'drip', material: 'red', drops })
const settled = (cup: ReturnType<typeof useCup>) => vi.waitFor(() => expect(cup.waiting.value).toBe(0), 5000)
const drops = () => taken.map((t) => t.drops)

test('steps are taken in their order, each once', async () => {
  const cup = open()
  for (let i = 1; i <= 20; i++) cup.take(drip(i))
  await settled(cup)
  expect(drops()).toEqual(Array.from({ length: 20 }, (_, i) => i + 1))
  expect(new Set(taken.map((t) => t.key)).size).toBe(20)
})

test('while nobody answers, nothing is lost and the count goes on', async () => {
  const cup = open()
  await vi.waitFor(() => expect(cup.state.value).toBeDefined())
  mood = () => 0
  cup.take(drip(1))
  cup.take(drip(2))
  await vi.waitFor(() => expect(cup.unreachable.value).toBe(true))
  expect(cup.ahead('red')).toBe(3)
  mood = () => 200
  await settled(cup)
  expect(drops()).toEqual([1, 2])
  expect(cup.unreachable.value).toBe(false)
})

test('an answer that is lost is asked for again under the same key', async () => {
  const cup = open()
  let first = true
  mood = (key) => {
    if (!key || !first) return 200
    first = false
    return -1
  }
  cup.take(drip(5))
  await settled(cup)
  expect(drops()).toEqual([5])
})

test('what the program stumbles over is set aside after three tries; the rest goes on, and it can be sent once more', async () => {
  const cup = open()
  await vi.waitFor(() => expect(cup.state.value).toBeDefined())
  let bad = ''
  let tries = 0
  mood = (key) => {
    if (!key) return 200
    bad ||= key
    if (key !== bad) return 200
    tries++
    return 500
  }
  cup.take(drip(1))
  cup.take(drip(2))
  await settled(cup)
  expect(tries).toBe(3)
  expect(drops()).toEqual([2])
  expect(cup.aside.value).toHaveLength(1)
  mood = () => 200
  cup.again()
  await settled(cup)
  expect(drops()).toEqual([2, 1])
})

test('what is refused is said at its field and not sent again', async () => {
  const cup = open()
  await vi.waitFor(() => expect(cup.state.value).toBeDefined())
  mood = (key) => (key ? 422 : 200)
  cup.take(drip(900))
  await settled(cup)
  expect(cup.problem.value?.field).toBe('typed')
  mood = () => 200
  cup.take(drip(1))
  await settled(cup)
  expect(drops()).toEqual([1])
  expect(cup.problem.value).toBeUndefined()
})

test('a reload goes on where it was', async () => {
  const first = open()
  await vi.waitFor(() => expect(first.state.value).toBeDefined())
  mood = () => 0
  first.take(drip(7))
  await vi.waitFor(() => expect(first.unreachable.value).toBe(true))
  scope.stop()
  mood = () => 200
  scope = effectScope()
  const again = open()
  await settled(again)
  expect(drops()).toEqual([7])
})

test('an outbox that was damaged opens empty', async () => {
  localStorage.setItem('outbox:a', '[{"uid":1},{"x"')
  const cup = open()
  await vi.waitFor(() => expect(cup.state.value).toBeDefined())
  expect(cup.waiting.value).toBe(0)
})
