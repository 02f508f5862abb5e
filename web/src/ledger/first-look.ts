import { watch } from 'vue'

/** So long it is waited for, milliseconds. */
const LONG = 600

/** What makes a paper higher is waited for before that is drawn: what is below would move away otherwise. Not where it takes long. */
export async function drawnWith(what: Promise<unknown>): Promise<void> {
  let timer: ReturnType<typeof setTimeout> | undefined
  const long = new Promise<void>(ok => (timer = setTimeout(ok, LONG)))
  await Promise.race([what, long])
  clearTimeout(timer)
}
/** Until it is known what becomes of a slip that is opened; `looks` counts that up. */
export async function firstLook(looks: () => number): Promise<void> {
  let stop!: () => void
  await drawnWith(new Promise<void>(known => (stop = watch(looks, () => known()))))
  stop()
}
