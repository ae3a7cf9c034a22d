import { api, ask, Problem, type ReferenceCard } from '@/api/client'

import { serial } from './serial'

/** Changes of a reference, one after the other, each from the revision that the one before left: two devices never overwrite each
 * other in silence. After a conflict the reference is read anew and shown as it stands. */
export function useReferenceChange(now: () => ReferenceCard, show: (reference: ReferenceCard) => void) {
  const { keep } = serial()
  let latest: ReferenceCard | undefined
  return (work: (seen: number) => Parameters<typeof ask<ReferenceCard>>[0]): Promise<ReferenceCard> =>
    keep(async () => {
      const from = latest && latest.uid === now().uid && latest.revision > now().revision ? latest : now()
      try {
        latest = await ask(work(from.revision))
        show(latest)
        return latest
      } catch (e) {
        if (e instanceof Problem && e.status === 409) {
          latest = await ask(api.GET('/references/{reference}', { params: { path: { reference: from.uid } } }))
          show(latest)
        }
        throw e
      }
    })
}
