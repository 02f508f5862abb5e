/**
 * What was typed or scanned and does not stand on the screen yet, since what it means has to be asked first. Whoever presses
 * the main button after it means it too, however slow the answer is.
 */
const scans = new Set<Promise<unknown>>()
const typed = new Set<Promise<unknown>>()

function held<T>(among: Set<Promise<unknown>>, work: Promise<T>): Promise<T> {
  const over: Promise<unknown> = work.then(
    () => among.delete(over),
    () => among.delete(over),
  )
  among.add(over)
  return work
}
/** What lets go of the scan that is being looked up: whoever hears scans says it. */
let letsGo = (): void => undefined
export const letGoBy = (how: () => void): void => {
  letsGo = how
}
/** Whoever does not want to wait lets go of what was scanned; that it stands nowhere is said. */
export const letGoOfScan = (): void => letsGo()
/** Whether a dialog asks something. */
export const asks = (): boolean => document.querySelector('[role="dialog"]') !== null
async function through(among: Set<Promise<unknown>>): Promise<void> {
  while (among.size) await Promise.all(among)
}
/** Whether something that was scanned does not stand yet. */
export const isScanning = (): boolean => scans.size > 0
export const scanUnderWay = <T>(work: Promise<T>): Promise<T> => held(scans, work)
export const typedUnderWay = <T>(work: Promise<T>): Promise<T> => held(typed, work)
/** Once what was typed so far stands there: also for a printed card, which is a scan itself. */
export const typedStands = (): Promise<void> => through(typed)
/** Whether anything that was scanned or typed does not stand yet. */
export const isUnderWay = (): boolean => scans.size + typed.size > 0
/** Once what was scanned so far stands there. */
export const scansStand = (): Promise<void> => through(scans)
/** Once what was scanned and typed so far stands there. */
export async function allStands(): Promise<void> {
  await scansStand()
  await typedStands()
}
