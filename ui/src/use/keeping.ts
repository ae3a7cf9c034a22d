import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'

import { api, ask, saysOf } from '@/api/client'

export type Thing =
  'recipe' | 'reference' | 'batch' | 'bait' | 'cup' | 'project' | 'pour' | 'leftover' | 'log' | 'pack' | 'supply'
export type Kept = 'here' | 'away' | 'deleted'

/** What was put away or deleted last, so that it can be undone from wherever one is. */
const gone = ref<{ what: Thing; uid: string; name: string; kept: Kept }>()
const says = ref('')
let clearing: ReturnType<typeof setTimeout> | undefined

/** Naming, putting away, deleting and bringing back what a maker makes. */
export function useKeeping() {
  const client = useQueryClient()
  async function tell(work: () => Promise<unknown>) {
    says.value = ''
    try {
      await work()
      await client.invalidateQueries()
      return true
    } catch (e) {
      says.value = saysOf(e)
      return false
    }
  }
  async function keep(what: Thing, uid: string, name: string, kept: Kept) {
    const done = await tell(() =>
      ask(api.PUT('/kept/{what}/{uid}', { params: { path: { what, uid } }, body: { kept } })),
    )
    if (!done) return false
    clearTimeout(clearing)
    gone.value = kept === 'here' ? undefined : { what, uid, name, kept }
    if (gone.value) clearing = setTimeout(() => (gone.value = undefined), 30_000)
    return true
  }
  const rename = (what: Thing, uid: string, name: string) =>
    tell(() => ask(api.PUT('/kept/{what}/{uid}/name', { params: { path: { what, uid } }, body: { name } })))
  const aboutShop = (name: string, currency: string) => tell(() => ask(api.PUT('/shop', { body: { name, currency } })))
  function undo() {
    const g = gone.value
    if (g) void keep(g.what, g.uid, g.name, 'here')
  }
  return { gone, says, keep, rename, aboutShop, undo, forget: () => (gone.value = undefined) }
}
