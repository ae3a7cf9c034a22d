import createClient from 'openapi-fetch'

import type { components, paths } from './schema'

export const api = createClient<paths>({ baseUrl: '/api/v1' })

type Schemas = components['schemas']
export type BaitPage = Schemas['BaitPage']
export type BenchState = Schemas['BenchState']
export type BenchTest = Schemas['BenchTest']
export type Beside = Schemas['Beside']
export type Bottle = Schemas['Bottle']
export type CountLog = Schemas['CountLog']
export type CupCard = Schemas['CupCard']
export type Found = Schemas['Found']
export type Kit = Schemas['Kit']
export type Legible = Schemas['Legible']
export type MaterialPage = Schemas['MaterialPage']
export type MoldPage = Schemas['MoldPage']
export type OneMore = Schemas['OneMore']
export type Property = Schemas['Property']
export type Swapped = Schemas['Swapped']
export type VersionCard = Schemas['VersionCard']
export type BatchCard = Schemas['BatchCard']
export type Choice = Schemas['Choice']
export type Cup = Schemas['Cup']
export type Dose = Schemas['Dose']
export type Difference = Schemas['Difference']
export type Field = Schemas['Field']
export type Family = Schemas['Family']
export type Look = Schemas['Look']
export type PhotoInfo = Schemas['PhotoInfo']
export type PinCard = Schemas['PinCard']
export type RecipeCard = Schemas['RecipeCard']
export type ReferenceCard = Schemas['ReferenceCard']
export type Sample = Schemas['Sample']
export type Scaled = Schemas['Scaled']
export type ShopInfo = Schemas['ShopInfo']
export type Step = Schemas['Step']
export type Target = Schemas['Target']

/** What went wrong, in words, with the field it belongs to. Status 0: the program could not be reached. With asks it
 * is a question: the same again, said to be sure, is taken. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    says: string,
    readonly field = '',
    readonly asks = false,
  ) {
    super(says)
  }
  get unreachable(): boolean {
    return this.status === 0 || this.status >= 500
  }
}

interface Answer<T> {
  data?: T
  error?: Schemas['ErrorModel']
  response: Response
}

/** Gives the data of an answer, or throws a Problem. */
export async function ask<T>(call: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>
  try {
    answer = await call
  } catch {
    throw new Problem(0, 'Cloudburst does not answer. Your entry is kept here and sent again.')
  }
  if (answer.response.ok) return answer.data as T
  const at = answer.error?.errors?.[0]
  const says = at?.message ?? answer.error?.detail ?? `The answer was ${answer.response.status}.`
  throw new Problem(
    answer.response.status,
    says,
    at?.location?.replace(/^(body|query)\./, '') ?? '',
    at?.value === 'ask',
  )
}

/** A file as the API takes it: its bytes. */
export const bytesOf = (file: File) => ({
  body: file as unknown as string,
  bodySerializer: (body: string) => body,
  headers: { 'Content-Type': 'application/octet-stream' },
})
