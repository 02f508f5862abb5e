import type { SlipLine } from '@shelve/contract'

/** Whether a line of a correction is about cost alone: it moves nothing, and what it changes stands on the slip as a whole. */
export const ofCost = (act: string): boolean =>
  act === 'price' || act === 'invoice' || act === 'invoiced_as' || act === 'charges'

/** What such a line says, in words, with the amounts as they were typed; nothing of another line. */
export function costSaid(line: Pick<SlipLine, 'act' | 'price' | 'unit' | 'invoiced'> | undefined): string {
  if (line?.act === 'charges') return 'freight and fees of the delivery'
  if (line?.act === 'invoiced_as') return `invoiced as ${line.invoiced.trim()}`
  if (line?.act === 'price') return `price ${line.price.trim()}${line.unit ? ` per ${line.unit}` : ''}`
  if (line?.act !== 'invoice') return ''
  const amount = line.price.trim().replace(/^[-\u2212]/, '')
  return `${amount} ${amount === line.price.trim() ? 'more' : 'less'} invoiced`
}
