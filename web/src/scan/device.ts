import type { ScannerHabit } from '@shelve/core'

const KEY = 'shelve.scanner'
const UNKNOWN: ScannerHabit = { pace: null, prefix: '' }

/** What the scanner test has set for this device; it stays on the device, whoever signs in. */
export function scannerHabit(): ScannerHabit {
  try {
    const kept = JSON.parse(localStorage.getItem(KEY) ?? 'null') as Partial<ScannerHabit> | null
    return {
      pace: typeof kept?.pace === 'number' && kept.pace > 0 ? kept.pace : null,
      prefix: typeof kept?.prefix === 'string' ? kept.prefix.slice(0, 4) : '',
    }
  } catch {
    return UNKNOWN
  }
}
export function setScannerHabit(habit: ScannerHabit | null): void {
  if (habit) localStorage.setItem(KEY, JSON.stringify(habit))
  else localStorage.removeItem(KEY)
}
