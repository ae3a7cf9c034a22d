import type { Bottle } from '@/api/client'

type Kind = Bottle['kind']
type Words = { one: string; many: string; bottle: string }

// What each kind of material is called: on a bottle, over a list of them, and where a new one is chosen.
export const kinds: Record<Kind, Words> = {
  plastisol: { bottle: 'Plastisol', many: 'Plastisol', one: 'Plastisol' },
  colourant: { bottle: 'Liquid', many: 'Drops', one: 'Liquid colour' },
  powder: { bottle: 'Powder', many: 'Powders', one: 'Powder' },
  flake: { bottle: 'Flake', many: 'Flake', one: 'Flake' },
  additive: { bottle: 'Additive', many: 'Additives', one: 'Additive' },
}

// kindList is them as a list to choose from.
export const kindList = (word: keyof Words) =>
  (Object.keys(kinds) as Kind[]).map((key) => ({ key, name: kinds[key][word] }))
