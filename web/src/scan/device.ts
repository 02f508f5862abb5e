import type { ScannerHabit } from '@shelve/core'
import { drawer } from '../shell/drawer.ts'

const KEY = 'shelve.scanner'
const UNKNOWN: ScannerHabit = { pace: null, prefix: '' }

/** What the scanner test has set for this device; it stays on the device, whoever signs in. */
export function scannerHabit(): ScannerHabit {
  try {
    const kept = JSON.parse(drawer.read(KEY) ?? 'null') as Partial<ScannerHabit> | null
    return {
      pace: typeof kept?.pace === 'number' && kept.pace > 0 ? kept.pace : null,
      prefix: typeof kept?.prefix === 'string' ? kept.prefix.slice(0, 4) : '',
    }
  } catch {
    return UNKNOWN
  }
}
export function setScannerHabit(habit: ScannerHabit | null): void {
  if (habit) drawer.keep(KEY, JSON.stringify(habit))
  else drawer.forget(KEY)
}
