import { describe, expect, it } from 'vitest'

import { dragged, turnOf, viewOf, type Turn } from './turn'

const near = (a: Turn, b: Turn) => {
  const same = a.reduce((sum, v, i) => sum + v * b[i]!, 0) // a turn and its opposite sign are one
  expect(Math.abs(same)).toBeCloseTo(1, 4)
}

describe('turns', () => {
  it('reads names and numbers, and falls back to the main view', () => {
    expect(turnOf('side', 'back')).toEqual([1, 0, 0, 0])
    expect(turnOf('0.5,0.5,0.5,0.5', 'side')).toEqual([0.5, 0.5, 0.5, 0.5])
    for (const bad of ['', 'nothing', '1,2', '0,0,0,0', 'a,b,c,d']) near(turnOf(bad, 'back'), turnOf('back', 'side'))
  })
  it('is back where it was after a whole turn', () => {
    const from = turnOf('quarter', 'side')
    near(dragged(dragged(from, 1, 0), 1, 0), from)
    near(dragged(dragged(from, 0, 0.3), 0, -0.3), from)
  })
  it('brings the back up when the top is dragged down', () => {
    near(dragged(turnOf('side', 'side'), 0, 0.5), turnOf('back', 'side'))
    near(dragged(turnOf('side', 'side'), 0, -0.5), turnOf('belly', 'side'))
  })
  it('is written so that it is read again', () =>
    near(turnOf(viewOf(turnOf('quarter', 'side')), 'side'), turnOf('quarter', 'side')))
})
