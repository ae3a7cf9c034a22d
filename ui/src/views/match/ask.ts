import { computed, reactive, ref, watch, type Ref } from 'vue'

import type { Dose, LayersAsk, MatchAsk, MatchReading, ReferenceCard } from '@/api/client'

/** One pin of a reference with what the maker says of it here. */
export interface Reading {
  uid: string
  name: string
  label: string // the name, with the number of the bait in a bag
  on: boolean
  behind: string // name of the part that lies behind it, '' for nothing
  behindMM: number
  reading: MatchReading
  hex: string
}

const wordNumber = (text: string) => Number(text.replace(',', '.').replace('%', '').trim())

/** A colour that is asked for by itself, as one that was logged. */
export interface Told {
  name: string
  lab: MatchReading['lab']
  hex: string
}

/** What is asked of a match, kept while one looks about. */
export function useAsk(reference: Ref<ReferenceCard | undefined>, told: Ref<Told | undefined> = ref()) {
  const readings = ref<Reading[]>([])
  const form = reactive({
    volume: '1 cup',
    plastisol: '',
    most: 4,
    colourants: true,
    powders: true,
    noBleeding: false,
    inStock: false,
    words: '',
    not: [] as string[],
    through: '',
    throughMM: 8,
    flake: false,
    together: false,
  })
  const held = ref<Dose[]>([])

  watch(
    [reference, told],
    ([r, one]) => {
      const flaked = !!r?.flake?.classes?.length
      readings.value = (r?.pins ?? [])
        .filter((p) => !p.aside && !p.mine)
        .map((p, i) => ({
          uid: p.uid,
          name: p.name,
          label: p.sample ? `${p.name}, bait ${p.sample}` : p.name,
          on: i === 0,
          behind: '',
          behindMM: 4,
          hex: p.swatch.hex,
          reading: {
            name: p.name,
            lab: p.target.lab,
            thicknessMM: p.thicknessMM,
            ground: p.ground,
            state: p.target.state || undefined,
            goodEnough: p.target.goodEnough,
            error: p.target.error,
            exact: p.target.exact,
            between: flaked && !p.reading.from,
          },
        }))
      if (!r && one) {
        const reading = { name: one.name, lab: one.lab, thicknessMM: 5, ground: 'white' as const }
        readings.value = [
          { uid: 'told', name: one.name, label: one.name, on: true, behind: '', behindMM: 4, hex: one.hex, reading },
        ]
      }
      held.value = []
      form.flake = false
    },
    { immediate: true },
  )

  const parts = computed(() => [...new Set(readings.value.map((r) => r.name))])
  const allow = computed(() => ({
    kinds:
      form.colourants === form.powders ? undefined : [form.colourants ? ('colourant' as const) : ('powder' as const)],
    noBleeding: form.noBleeding,
    inStock: form.inStock,
    words: form.words,
    not: form.not,
  }))
  const seeThrough = computed(() => {
    const share = wordNumber(form.through)
    return form.through.trim() && share >= 0 && share <= 100
      ? { share: share / 100, thicknessMM: form.throughMM }
      : undefined
  })
  const ask = computed<MatchAsk>(() => ({
    readings: readings.value.map((r) => ({ ...r.reading, name: r.label.slice(0, 80), weight: r.on ? 1 : 0 })),
    volume: form.volume,
    plastisol: form.plastisol || undefined,
    held: held.value.length ? held.value : undefined,
    allow: allow.value,
    most: form.most,
    seeThrough: seeThrough.value,
    flake: form.flake ? reference.value?.uid : undefined,
  }))
  const layers = computed<LayersAsk>(() => ({
    parts: parts.value.map((name) => ({
      name,
      readings: readings.value
        .filter((r) => r.name === name)
        .map((r) => {
          const part = parts.value.indexOf(r.behind)
          return { ...r.reading, behind: part >= 0 && r.behind !== name ? [{ part, mm: r.behindMM }] : undefined }
        }),
    })),
    volume: form.volume,
    plastisol: form.plastisol || undefined,
    allow: allow.value,
    most: form.most,
  }))
  return { readings, form, held, parts, ask, layers }
}
