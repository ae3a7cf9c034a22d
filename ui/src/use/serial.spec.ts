import { expect, test } from 'vitest'

import { serial } from './serial'

const pause = () => new Promise((wake) => setTimeout(wake, 1))

test('what is kept is done in its order, whatever each takes', async () => {
  const { keep } = serial()
  const did: number[] = []
  const all = [30, 1, 10].map((ms, i) =>
    keep(async () => {
      await new Promise((wake) => setTimeout(wake, ms))
      did.push(i)
      return i
    }),
  )
  expect(await Promise.all(all)).toEqual([0, 1, 2])
  expect(did).toEqual([0, 1, 2])
})

test('one that fails is told to its asker and holds nobody up', async () => {
  const { keep } = serial()
  const bad = keep(() => Promise.reject(new Error('refused')))
  const good = keep(() => Promise.resolve('kept'))
  await expect(bad).rejects.toThrow('refused')
  expect(await good).toBe('kept')
})

test('of what is only shown, the newest is; what is kept goes first', async () => {
  const { keep, show } = serial()
  const did: string[] = []
  const say = (what: string) => async () => {
    await pause()
    did.push(what)
  }
  const first = keep(say('kept 1'))
  for (let i = 0; i < 20; i++) show(say(`shown ${i}`))
  const second = keep(say('kept 2'))
  await Promise.all([first, second])
  await keep(say('kept 3'))
  await pause()
  await pause()
  expect(did).toEqual(['kept 1', 'kept 2', 'shown 19', 'kept 3'])
})

test('a picture that can not be shown leaves the rest as it is', async () => {
  const { keep, show } = serial()
  show(() => Promise.reject(new Error('gone')))
  expect(await keep(() => Promise.resolve(1))).toBe(1)
})
