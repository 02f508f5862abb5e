import type { Base, Kept } from './wire.ts'

const texts = new WeakMap<object, string>()
/** Something that never changes, as JSON: worked out once. */
function once(told: object): string {
  let text = texts.get(told)
  if (text === undefined) texts.set(told, (text = JSON.stringify(told)))
  return text
}

/** A paper as the device keeps it (`Kept`); what is known of the server's lines is written down once, not with every key. */
export function written<H, L>(mine: Kept<H, L>['mine'], base: Base<H, L>, sent: Kept<H, L>['sent']): string {
  const { lines, ...rest } = base
  const known = [...lines].map(([line, told]) => `[${JSON.stringify(line)},${once(told)}]`).join(',')
  const whole = `${JSON.stringify(rest).slice(0, -1)},"lines":[${known}]}`
  return `{"mine":${JSON.stringify(mine)},"base":${whole},"sent":${JSON.stringify(sent)}}`
}
