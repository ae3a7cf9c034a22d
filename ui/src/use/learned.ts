import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'

import { api, ask, saysOf } from '@/api/client'

/** Takes what batches say of bottles over into what is predicted, or leaves it out again. What depends on it is read anew. */
export function useAccept() {
  const client = useQueryClient()
  const says = ref<string>()
  const busy = ref(false)
  async function accept(accepted: boolean, ...bottles: { uid: string; revision: number }[]) {
    says.value = undefined
    busy.value = true
    try {
      for (const b of bottles)
        await ask(
          api.PUT('/materials/{material}/learned', {
            params: { path: { material: b.uid } },
            body: { seen: b.revision, accepted },
          }),
        )
    } catch (e) {
      says.value = saysOf(e)
    }
    await client.invalidateQueries()
    busy.value = false
  }
  return { accept, says, busy }
}
