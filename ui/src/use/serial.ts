/**
 * Work on one thing, one piece after the other. What is to be kept is done in its order; of what is only to be shown, the newest wish is
 * answered and those between are left out.
 */
export function serial() {
  const queue: (() => Promise<void>)[] = []
  let wish: (() => Promise<void>) | undefined
  let busy = false

  async function run() {
    if (busy) return
    busy = true
    try {
      for (;;) {
        const next = queue.shift() ?? wish
        if (next === wish) wish = undefined
        if (!next) return
        await next()
      }
    } finally {
      busy = false
    }
  }

  return {
    /** Does it in its turn, and gives what comes of it. */
    keep: <T>(work: () => Promise<T>): Promise<T> =>
      new Promise<T>((done, failed) => {
        queue.push(() => work().then(done, failed))
        void run()
      }),
    /** Does it when nothing is to be kept, unless a newer wish comes first. */
    show: (work: () => Promise<void>): void => {
      wish = () => work().catch(() => undefined) // what is only shown is told where it is kept
      void run()
    },
  }
}
