const GS = '\x1d'
interface Field {
  readonly el: HTMLInputElement | HTMLTextAreaElement
  readonly value: string
  readonly from: number | null
  readonly to: number | null
}

/** A burst as it came: for the test of a scanner, which hears it before anybody else. */
export interface Burst {
  readonly code: string
  readonly slowest: number
  readonly end: 'Enter' | 'Tab'
}
const hearers = new Set<(b: Burst) => void>()
/** While somebody listens here, bursts go nowhere else. */
export function listenToBursts(hear: (b: Burst) => void): () => void {
  hearers.add(hear)
  return () => {
    hearers.delete(hear)
  }
}

/**
 * Hears a keyboard-wedge scanner whatever has the focus: a chain of keys, none more than `slack` ms after the last and
 * half of them within `gap` ms, ended by Enter or Tab. From the second quick key on nothing reaches the page; what did is
 * put back, no button is pressed. The keys of a quick typist are given back. `synthetic`: whether keys that a script made
 * count too, as the scanner stand-in of the demonstration makes them.
 */
export function listenToScanner(
  onScan: (code: string) => void,
  { gap = 30, slack = 150, least = 4, synthetic = (): boolean => false } = {},
): () => void {
  let chain = ''
  let held = ''
  let gaps: number[] = []
  let last = -Infinity
  let ended = -Infinity
  let altDigits = ''
  let field: Field | undefined
  let timer: number | undefined

  const stop = (e: Event) => {
    e.preventDefault()
    e.stopImmediatePropagation()
  }
  /** FNC1 comes as itself, as its picture, or as Ctrl+]; on some keyboards as Alt and 029. */
  const charOf = (e: KeyboardEvent): string => {
    if (e.key === GS || e.key === '\u241d' || (e.ctrlKey && !e.altKey && (e.key === ']' || e.code === 'BracketRight')))
      return GS
    // Alt with a key's own letter or digit is a command of the screen (where it types something, it is another character).
    if (e.altKey && !e.ctrlKey && /^(Digit|Key)/.test(e.code) && e.key.toUpperCase() === e.code.at(-1)) return ''
    return [...e.key].length === 1 && !e.metaKey && (!e.ctrlKey || e.altKey) ? e.key : ''
  }
  const snap = (el: Element | null): Field | undefined => {
    if (!(el instanceof HTMLInputElement || el instanceof HTMLTextAreaElement)) return undefined
    const text = !(el instanceof HTMLInputElement) || /^(text|search|tel|url|password)$/.test(el.type)
    return { el, value: el.value, from: text ? el.selectionStart : null, to: text ? el.selectionEnd : null }
  }
  const giveBack = () => {
    window.clearTimeout(timer)
    const text = held.replaceAll(GS, '')
    held = ''
    // The one way to insert as if typed, with undo and input events.
    if (text) document.execCommand('insertText', false, text)
  }
  const forget = () => {
    giveBack()
    chain = altDigits = ''
    gaps = []
    field = undefined
  }
  const restore = () => {
    const reached = chain.slice(0, chain.length - held.length).replaceAll(GS, '')
    held = ''
    if (!field || field.el.value === field.value) return
    // Only what the burst itself wrote is taken out again: where somebody else wrote meanwhile, theirs stands.
    if (
      field.from !== null &&
      field.to !== null &&
      field.el.value !== field.value.slice(0, field.from) + reached + field.value.slice(field.to)
    )
      return
    Object.getOwnPropertyDescriptor(Object.getPrototypeOf(field.el), 'value')!.set!.call(field.el, field.value)
    for (const t of ['input', 'change']) field.el.dispatchEvent(new Event(t, { bubbles: true }))
    if (field.from !== null) field.el.setSelectionRange(field.from, field.to)
  }
  const add = (c: string, e: Event, since: number) => {
    if (!chain) field = snap(document.activeElement)
    else gaps.push(since)
    chain += c
    if (c === GS) stop(e)
    else if (gaps.length && (since <= gap || held.length > 1)) {
      stop(e)
      held += c
    }
    window.clearTimeout(timer)
    timer = window.setTimeout(forget, slack + 50)
  }
  const median = () => [...gaps].sort((a, b) => a - b)[gaps.length >> 1] ?? Infinity
  const down = (e: KeyboardEvent) => {
    if (
      (!e.isTrusted && !synthetic()) ||
      e.isComposing ||
      /^(Shift|Control|Alt|AltGraph|Meta|CapsLock|NumLock)$/.test(e.key)
    )
      return
    const since = e.timeStamp - last
    last = e.timeStamp
    if (since > slack) forget()
    else if (since > gap && held.length < 2) giveBack()
    if (e.altKey && /^Numpad\d$/.test(e.code)) {
      stop(e)
      altDigits += e.code.at(-1)
      return
    }
    if (e.key === 'Enter' || e.key === 'Tab') {
      if (chain.length >= least && median() <= gap) {
        stop(e)
        restore()
        const code = chain
        const slowest = Math.max(...gaps)
        forget()
        ended = last
        if (hearers.size) for (const hear of hearers) hear({ code, slowest, end: e.key as 'Enter' })
        else onScan(code)
      } else if (last - ended < 100) stop(e)
      else forget()
      return
    }
    const c = e.repeat ? '' : charOf(e)
    if (c) add(c, e, since)
    else forget()
  }
  const up = (e: KeyboardEvent) => {
    if (e.key === 'Alt' && altDigits) {
      const c = String.fromCharCode(Number(altDigits))
      altDigits = ''
      add(c, e, e.timeStamp - last)
      last = e.timeStamp
    } else if (e.key === ' ' && held) stop(e)
  }
  window.addEventListener('keydown', down, true)
  window.addEventListener('keyup', up, true)
  return () => {
    forget()
    window.removeEventListener('keydown', down, true)
    window.removeEventListener('keyup', up, true)
  }
}
