import type { Base, Kept } from './wire.ts'

const texts = new WeakMap<object, string>()
/** Something that never changes, as JSON: worked out once. */
function once(told: object): string {
  let text = texts.get(told)
  if (text === undefined) texts.set(told, (text = JSON.stringify(told)))
  return text
}

/** What the device kept of a paper; undefined where that is nothing, or nothing that could be read. */
export function readAgain<H, L>(text: string | null): Kept<H, L> | undefined {
  try {
    const value = JSON.parse(text ?? '') as Kept<H, L>
    return Array.isArray(value.mine.lines) && Array.isArray(value.base.lines) ? value : undefined
  } catch {
    return undefined
  }
}

/** A paper as the device keeps it (`Kept`); what is known of the server's lines is written down once, not with every key. */
export function written<H, L>(mine: Kept<H, L>['mine'], base: Base<H, L>, sent: Kept<H, L>['sent']): string {
  const { lines, ...rest } = base
  const known = [...lines].map(([line, told]) => `[${JSON.stringify(line)},${once(told)}]`).join(',')
  const whole = `${JSON.stringify(rest).slice(0, -1)},"lines":[${known}]}`
  return `{"mine":${JSON.stringify(mine)},"base":${whole},"sent":${JSON.stringify(sent)}}`
}
