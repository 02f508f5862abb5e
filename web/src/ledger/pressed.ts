/**
 * Whoever presses once more after they changed something means what stands there by now (`says`): `again` waits until the
 * answer to the first time has come. False where nothing was changed, or somebody waits already.
 */
export function pressedOnce(says: () => string) {
  let said = ''
  let answered: Promise<unknown> = Promise.resolve()
  let waits = false
  return {
    first<T>(run: () => Promise<T>): Promise<T> {
      said = says()
      const now = run()
      answered = now.catch(() => undefined)
      return now
    },
    async again(): Promise<boolean> {
      if (waits || says() === said) return false
      waits = true
      await answered
      waits = false
      return true
    },
  }
}
