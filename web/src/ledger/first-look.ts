import { watch } from 'vue'

/** So long it is waited for, milliseconds. */
const LONG = 600

/**
 * Until it is known what becomes of a slip that is opened (`looks` counts that up), which makes its lines higher: what is below
 * them would move away otherwise. Where that takes long the slip is drawn without.
 */
export async function firstLook(looks: () => number): Promise<void> {
  let over!: () => void
  const known = new Promise<void>(ok => (over = ok))
  const stop = watch(looks, over)
  const timer = setTimeout(over, LONG)
  await known
  clearTimeout(timer)
  stop()
}
