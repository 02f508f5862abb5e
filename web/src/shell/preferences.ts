import { ref, type Ref } from 'vue'
import { call, get, said } from './api.ts'
import { oneAtATime } from './asked-once.ts'
import { useStrip } from './strip.ts'

/**
 * Something that a person arranges to their taste (blocks, columns, saved filters), kept per person on the server, so that
 * it is there on every device. What is not kept yet, or no longer fits, is `standard`. `keep` gives whether it is kept; where
 * it is not, that is said.
 */
export function usePreference<T>(
  name: string,
  standard: T,
  fits: (kept: unknown) => kept is T,
): { value: Ref<T>; ready: Promise<void>; keep: (next: T) => Promise<boolean> } {
  const strip = useStrip()
  const value = ref(standard) as Ref<T>
  /** Something was chosen here: what was kept before is not taken for it, however late it comes. */
  let chosen = false
  const ready = get<{ value: string | null }>(`/api/preferences/${name}`)
    .then(r => {
      const kept: unknown = r.value === null ? null : JSON.parse(r.value)
      if (!chosen && fits(kept)) value.value = kept
    })
    .catch(() => undefined)
  // One after the other, the last choice in the end: of two on their way at once the earlier may be kept last.
  const send = oneAtATime(() =>
    call('PUT', `/api/preferences/${name}`, { body: { value: JSON.stringify(value.value) } }),
  )
  const keep = (next: T) => {
    chosen = true
    value.value = next
    return send().then(
      () => true,
      (e: unknown) => {
        strip.say(`It stands so here, and is not kept. ${said(e)}`, 'bad')
        return false
      },
    )
  }
  return { value, ready, keep }
}
/** What somebody arranged (`-` before what is hidden), with what did not exist then put behind the one it follows in `all`. */
export function withNew(arranged: readonly string[], all: readonly string[]): string[] {
  const out = [...arranged]
  for (const [i, b] of all.entries())
    if (!out.includes(b) && !out.includes(`-${b}`)) {
      const before =
        all
          .slice(0, i)
          .reverse()
          .map(x => Math.max(out.indexOf(x), out.indexOf(`-${x}`)))
          .find(n => n >= 0) ?? -1
      out.splice(before + 1, 0, b)
    }
  return out
}
export const isTexts = (x: unknown): x is string[] => Array.isArray(x) && x.every(t => typeof t === 'string')
