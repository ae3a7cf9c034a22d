import createClient, { type Middleware } from 'openapi-fetch'

import type { components, paths } from './schema'

/** The API without the key of an action, which every call gets on its way. */
type Keyless<P> = {
  [path in keyof P]: {
    [method in keyof P[path]]: P[path][method] extends { parameters: infer X }
      ? Omit<P[path][method], 'parameters'> & { parameters: Omit<X, 'header'> & { header?: never } }
      : P[path][method]
  }
}

export const api = createClient<Keyless<paths>>({
  baseUrl: `${location.origin}/api/v1`,
  fetch: (request) => fetch(request),
})

export const keyHeader = 'Idempotency-Key'

/** Every action is sent under a key of its own, so that one that is sent again counts once. The very same action, as long as it was
 * not answered, keeps its key: pressed twice, or once more after a broken connection, it is still one. */
const unanswered = new Map<string, string>()
const actions = new WeakMap<Request, string>()
const once: Middleware = {
  async onRequest({ request }) {
    if (request.method === 'GET') return undefined
    request.headers.set('Device', device())
    if (request.headers.has(keyHeader)) return request
    const body = new Uint8Array(await request.clone().arrayBuffer())
    const action = `${request.method} ${request.url} ${fingerprint(body)}`
    const key = unanswered.get(action) ?? newKey()
    unanswered.set(action, key)
    request.headers.set(keyHeader, key)
    actions.set(request, action)
    return request
  },
  onResponse({ request, response }) {
    if (response.status < 500) unanswered.delete(actions.get(request) ?? '')
    return undefined
  },
}
api.use(once)

/** Tells bodies apart: FNV-1a from two beginnings. (The browser's own digests are not there over plain HTTP.) */
function fingerprint(bytes: Uint8Array): string {
  let a = 0x811c9dc5
  let b = 0x01234567
  for (const byte of bytes) {
    a = Math.imul(a ^ byte, 0x01000193)
    b = Math.imul(b ^ byte, 0x01000193)
  }
  return `${bytes.length} ${a >>> 0} ${b >>> 0}`
}

/** A key for one action. Where the page came over plain HTTP from another machine there is no randomUUID. */
export const newKey = (): string =>
  crypto.randomUUID?.() ??
  Array.from(crypto.getRandomValues(new Uint8Array(16)), (b) => b.toString(16).padStart(2, '0')).join('')

/** The name that this device made for itself, kept with everything that it does. */
export function device(): string {
  const kept = localStorage.getItem('device')
  if (kept) return kept
  const made = newKey()
  localStorage.setItem('device', made)
  return made
}

export type Schemas = components['schemas']
export type BaitPage = Schemas['BaitPage']
export type BenchState = Schemas['BenchState']
export type BenchTest = Schemas['BenchTest']
export type Beside = Schemas['Beside']
export type Bottle = Schemas['Bottle']
export type CountLog = Schemas['CountLog']
export type CupCard = Schemas['CupCard']
export type Found = Schemas['Found']
export type Kit = Schemas['KitAnswer']
export type Legible = Schemas['Legible']
export type Candidate = Schemas['Candidate']
export type Corrected = Schemas['Corrected']
export type LayersAsk = Schemas['LayersAsk']
export type LayersResult = Schemas['LayersResult']
export type MatchAnswer = Schemas['MatchAnswer']
export type MatchAsk = Schemas['MatchAsk']
export type MatchLine = Schemas['MatchLine']
export type MatchReading = Schemas['MatchReading']
export type Equipment = Schemas['EquipmentAnswer']
export type PourPage = Schemas['PourPage']
export type PourOrder = Schemas['PourOrder']
export type PourItem = Schemas['PourItem']
export type PourPlanned = Schemas['PourPlanned']
export type PourStep = Schemas['PourStep']
export type PourCook = Schemas['PourCook']
export type PourTimeline = Schemas['PourTimeline']
export type PourWay = Schemas['PourWay']
export type RunPage = Schemas['RunPage']
export type RunStep = Schemas['PourRunStep']
export type RunCup = Schemas['RunCup']
export type RunLine = Schemas['RunLine']
export type PackPage = Schemas['PackPage']
export type SupplyCard = Schemas['SupplyCard']
export type LogEntry = Schemas['LogEntry']
export type LeftoverCard = Schemas['LeftoverCard']
export type LeftoverPage = Schemas['LeftoverPage']
export type Move = Schemas['Move']
export type MaterialPage = Schemas['MaterialPage']
export type MoldPage = Schemas['MoldPage']
export type OneMore = Schemas['OneMore']
export type Property = Schemas['Property']
export type Swapped = Schemas['Swapped']
export type VersionCard = Schemas['VersionCard']
export type BatchCard = Schemas['BatchCard']
export type Outcome = Schemas['Outcome']
export type Advice = Schemas['Advice']
export type Onward = Schemas['Onward']
export type ProjectCard = Schemas['ProjectCard']
export type ProjectItem = Schemas['ProjectItem']
export type PartTrail = Schemas['PartTrail']
export type Try = Schemas['Try']
export type Taught = Schemas['Taught']
export type PartReading = Schemas['PartReading']
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
export type RecipeItem = Schemas['RecipeItem']
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
  /** Nobody answered, or the database was away: the same again is taken later. */
  get unreachable(): boolean {
    return this.status === 0 || this.status === 502 || this.status === 503 || this.status === 504
  }
  /** The program stumbled over it. */
  get stumbled(): boolean {
    return this.status >= 500 && !this.unreachable
  }
}

/** What was caught, as a problem: what is none is told in its own words. */
export const problemOf = (e: unknown): Problem => (e instanceof Problem ? e : new Problem(0, saysOf(e)))
/** What was caught, in words. */
export const saysOf = (e: unknown): string => (e instanceof Error ? e.message : String(e))

interface Answer<T> {
  data?: T
  error?: Schemas['Problem']
  response: Response
}

/** The field that a problem belongs to, written one way: molds.0.count, not body.molds[0].count. */
export const fieldOf = (location: string) => location.replace(/^(body|query)\./, '').replace(/\[(\d+)\]/g, '.$1')

/** Gives the data of an answer, or throws a Problem. */
export async function ask<T>(call: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>
  try {
    answer = await call
  } catch {
    throw new Problem(0, 'Cloudburst does not answer. Your entry is still here; try again in a moment.')
  }
  if (answer.response.ok) return answer.data as T
  const at = answer.error?.errors?.[0]
  const says = at?.message ?? answer.error?.detail ?? `The answer was ${answer.response.status}.`
  throw new Problem(answer.response.status, says, fieldOf(at?.location ?? ''), at?.value === 'ask')
}

/** A file as the API takes it: its bytes. */
export const bytesOf = (file: File) => ({
  body: file as unknown as string,
  bodySerializer: (body: string) => body,
  headers: { 'Content-Type': 'application/octet-stream' },
})

/** Asks for work that answers in lines as it goes on. Aborting the signal stops the work. */
export async function lines<T>(path: string, body: unknown, signal: AbortSignal, each: (line: T) => void) {
  let answer: Response
  try {
    answer = await fetch(`/api/v1${path}`, {
      method: 'POST',
      body: JSON.stringify(body),
      headers: { 'Content-Type': 'application/json' },
      signal,
    })
  } catch (e) {
    if (signal.aborted) return
    throw new Problem(0, 'Cloudburst does not answer. Nothing was lost; try again.', String(e))
  }
  if (!answer.ok || !answer.body) throw new Problem(answer.status, `The answer was ${answer.status}.`)
  const reader = answer.body.pipeThrough(new TextDecoderStream()).getReader()
  let text = ''
  try {
    for (;;) {
      const { done, value } = await reader.read()
      if (done) return
      text += value
      const parts = text.split('\n')
      text = parts.pop()!
      for (const line of parts) if (line) each(JSON.parse(line) as T)
    }
  } catch (e) {
    if (!signal.aborted) throw e
  }
}
