import { given } from '../scan/code-field.ts'
import { takesText } from '../scan/scanner.ts'

/** How long what was typed ahead waits for the next field, in frames of the screen. */
const PATIENCE = 120
const frame = () => new Promise(ok => requestAnimationFrame(ok))

/** Waits until another field than `left` has the focus; null where none takes it. */
async function next(left: Element | null): Promise<Element | null> {
  for (let n = 0; n < PATIENCE; n++) {
    await frame()
    const now = document.activeElement
    if (now !== left && takesText(now)) return now
  }
  return null
}

/**
 * What somebody typed ahead of a screen that was still loading goes where it would have gone: `typed` holds one entry for
 * each field, all but the last ended with Enter; `left` is the field that they left. What no field takes is given back.
 */
export async function typeOn(typed: readonly string[], left: Element | null): Promise<readonly string[]> {
  let before = left
  for (const [n, text] of typed.entries()) {
    const last = n === typed.length - 1
    if (last && !text) break
    const field = await next(before)
    if (!field) return typed.slice(n)
    // The one way to insert as if typed, with undo and input events.
    if (text) document.execCommand('insertText', false, text)
    if (last) break
    const enter = new KeyboardEvent('keydown', { key: 'Enter', bubbles: true, cancelable: true })
    given.add(enter)
    field.dispatchEvent(enter)
    before = field
  }
  return []
}
