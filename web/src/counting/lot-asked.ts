import type { IndexItem, SlipLine } from '@shelve/contract'
import { isUnknownLot } from '@shelve/core'

/**
 * What is still to be said of the lot of which so much was counted, where the sheet does not say it; nothing: ''. Of none it
 * is not asked: then nothing lies of any.
 */
export function lotAsked(line: Pick<SlipLine, 'lot'>, item: IndexItem | undefined, counted: bigint): string {
  if (!item || item.identifiedBy === 'quantity' || line.lot?.id || counted === 0n) return ''
  const code = line.lot?.code.trim() ?? ''
  if (item.identifiedBy === 'serial') return code ? '' : 'Which one? Its number stands on it.'
  if (!code) return 'Which lot? It stands on the package. Where nobody can read it any more: No label.'
  return item.identifiedBy === 'lot_expiry' && !line.lot?.expiry && !isUnknownLot(code)
    ? 'When does this lot expire? The date stands beside the lot.'
    : ''
}
