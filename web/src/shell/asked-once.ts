/**
 * A list that is asked for once by whichever screen first wants it (`need`), and anew when it may be another (`forget`):
 * after a change of set-up, or when the server answers again, also where it did not come the first time.
 */
export function askedOnce(load: () => Promise<void>): { need: () => Promise<void>; forget: () => void } {
  let asked: Promise<void> | undefined
  let wanted = false
  const ask = (): Promise<void> => {
    const mine = load().catch(() => {
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
