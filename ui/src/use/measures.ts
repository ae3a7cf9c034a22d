// What the measures of baits and molds are called, by their keys; numbers in a key count parts of a kind and are left out.
const bait: Record<string, [label: string, about?: string]> = {
  'cups.pour': ['Goes in at'],
  'layers.top': ['Filled to'],
  'layers.blur': ['Runs into the next by', 'Worked out from how hot both go in, until you type it'],
  'core.wide': ['Thick'],
  'core.from': ['From', 'From the nose'],
  'core.to': ['To'],
  'skin.to': ['Back to', 'From the nose'],
  'skin.deep': ['Thick'],
  'tail.from': ['From', 'From the nose'],
  'bars.at': ['At', 'Its middle, from the nose'],
  'bars.wide': ['Wide'],
  'bars.deep': ['Thick'],
  'bars.down': ['Down to', 'Of the height, from the belly'],
  'bars.under': ['Body over it', '0 where it lies on the mold'],
  'spots.at': ['At', 'From the nose'],
  'spots.up': ['Up', 'From the axis'],
  'spots.across': ['Across'],
  'spots.deep': ['Thick'],
  'spots.under': ['Body over it', '0 where it lies on the mold'],
  'hook.grams': ['Hook', 'With a jig head’s lead'],
  'hook.at': ['Its middle at', 'From the nose'],
  'hook.up': ['Up', 'From the axis; - for below'],
}
const mold: typeof bait = {
  lengthMM: ['Long'],
  heightMM: ['High', 'Back to belly'],
  widthMM: ['Wide', 'Side to side'],
  thickestMM: ['Thickest section'],
  thinnestMM: ['Thinnest section'],
  stepsMM: ['Steps, mm', 'From thin to thick'],
  baitML: ['A bait takes', 'As the shape says. Type what you measured: 8.5 ml, 9 g weighed, or 8.6 g water displaced'],
  cavities: ['Cavities'],
  sprueML: ['Sprue and runner', 'Of the whole mold'],
  plugML: ['Plug', 'Stays in the injector'],
  gateMM: ['Gate', 'Its width; 0 where it is open'],
  rodMM: ['Rods', 'For a core: how thick; 0 for none'],
  'slots.fromMM': ['From', 'From the nose'],
  'slots.toMM': ['To'],
  'slots.deepMM': ['Deep'],
  'slots.wideMM': ['Wide'],
  'split.reachPct': ['Layers reach', 'How far back each gets, from the belly up: 80, 100'],
  'split.driftMM': ['Drifts by', 'The boundary at the tail over that at the nose'],
  'split.wanderMM': ['Wanders by', 'From cavity to cavity'],
  'split.oddCount': ['Odd cavities', 'At the runner’s end'],
  'split.oddMM': ['Those are off by'],
}

// Names of the groups that a mold's measures come in.
export const groups = { size: 'Size', filling: 'Filling', slot: 'Hook slot', split: 'How it splits layers' }

// namesOf is what a measure is called, and what is to be known of it.
export function namesOf(key: string): { label: string; about: string } {
  const bare = key.replace(/\.\d+/g, '')
  const [label, about] = bait[bare] ?? mold[bare] ?? [bare]
  return { label, about: about ?? '' }
}
