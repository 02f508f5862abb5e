/**
 * Runs one at a time, and once more where it is asked for meanwhile: of two that run at once the older answer may come last,
 * and would stand. Ends when the last that was asked for has; fails where that one did.
 */
export function oneAtATime(load: () => Promise<unknown>): () => Promise<void> {
  let running: Promise<void> | undefined
  let again = false
  const run = async () => {
    for (;;) {
      again = false
      try {
        await load()
      } catch (e) {
        if (!again) throw e
      }
      if (!again) return
    }
  }
  return () => {
    if (running) again = true
    else
      running = run().finally(() => {
        running = undefined
      })
    return running
  }
}

/** Each question outdates those before: `ask()` gives what tells, once its answer has come, whether it is still wanted. */
export function newest(): () => () => boolean {
  let asked = 0
  return () => {
    const mine = ++asked
    return () => mine === asked
  }
}

/**
 * A list that is asked for once by whichever screen first wants it (`need`), and anew when it may be another (`forget`):
 * after a change of set-up, or when the server answers again, also where it did not come the first time.
 */
export function askedOnce(load: () => Promise<void>): { need: () => Promise<void>; forget: () => void } {
  const run = oneAtATime(load)
  let asked: Promise<void> | undefined
  let wanted = false
  const ask = (): Promise<void> => {
    const mine = run().catch(() => {
      if (asked === mine) asked = undefined
    })
    return mine
  }
  return {
    need: () => {
      wanted = true
      return (asked ??= ask())
    },
    forget: () => {
      if (wanted) asked = ask()
    },
  }
}
