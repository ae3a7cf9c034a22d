import { expect, test } from 'vitest'
import { groups, namesOf } from './measures'

test('a part’s measure is named whatever its number', () => {
  expect(namesOf('layers.3.top').label).toBe('Filled to')
  expect(namesOf('slots.0.deepMM').label).toBe('Deep')
  expect(namesOf('baitML').about).toContain('8.5 ml')
})

test('a mold’s groups have names', () => expect(groups.split).toBe('How it splits layers'))
