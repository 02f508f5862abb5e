import { defineStore } from 'pinia'
import { nextTick, onScopeDispose, ref, shallowRef } from 'vue'
import { useRouter } from 'vue-router'
import { isBadge, readOwnCode, WORKS } from '@shelve/core'
import type { CodeMeaning } from '@shelve/contract'
import { said } from '../shell/api.ts'
import { useSession } from '../shell/session.ts'
import { useIndex } from '../shell/index-store.ts'
import { useStrip } from '../shell/strip.ts'
import { isScanning, letGoBy, scanUnderWay } from '../shell/under-way.ts'
import { typeOn } from '../ui/type-on.ts'
import { takerOf } from './code-field.ts'

/** Takes what a scan means, or a word that was `named` in the strip; true where it was used. */
export type ScanTaker = (meaning: CodeMeaning, named: boolean) => boolean | Promise<boolean>

/** What else an unknown code may be, as a button says it. */
export interface ScanOffer {
  readonly label: string
  readonly run: () => void
}

/** A look-up is seen when it takes so long, and given up when it takes so long, milliseconds. */
const SEEN = 300
const MOST = 30_000

/** Where scans go: to the screen that wants them, else to the thing itself. Unknown codes ask what to do. */
export const useScan = defineStore('scan', () => {
  const router = useRouter()
  const index = useIndex()
  const strip = useStrip()
  const takers = shallowRef<ScanTaker[]>([])
  const unknown = ref<CodeMeaning | null>(null)
  /** What else an unknown code may be where it was scanned: the lot of the line that waits for one. */
  const offered = shallowRef<ScanOffer[]>([])
  const offers = shallowRef<((meaning: CodeMeaning) => ScanOffer | undefined)[]>([])
  /** Screens on which a badge may say something else than who works here: true where it did. */
  const badges = shallowRef<((badge: string) => Promise<boolean>)[]>([])
  function wantsBadge(taker: (badge: string) => Promise<boolean>): void {
    badges.value = [...badges.value, taker]
    onScopeDispose(() => {
      badges.value = badges.value.filter(t => t !== taker)
    })
  }
  /** The code that was heard last, all of it. */
  const heard = ref('')
  /** What becomes of an unknown code once an item has it. */
  let then: ((m: CodeMeaning) => void) | undefined

  function offer(what: (meaning: CodeMeaning) => ScanOffer | undefined): void {
    offers.value = [...offers.value, what]
    onScopeDispose(() => {
      offers.value = offers.value.filter(o => o !== what)
    })
  }
  function wants(taker: ScanTaker): void {
    takers.value = [...takers.value, taker]
    onScopeDispose(() => {
      takers.value = takers.value.filter(t => t !== taker)
    })
  }
  /** One scan after the other: what a card opens is there before the next scan is used. `at` had the focus. */
  let line: Promise<void> = Promise.resolve()
  /** What a scan waits for longer than a moment, in words. */
  const looking = ref('')
  /** Whether the last code led somewhere: else what was typed or pressed after it was meant for nothing that is there. */
  let led = true
  const scanned = (code: string, at: Element | null = null): Promise<void> =>
    scanUnderWay((line = line.then(() => looked(code, at)).catch(() => undefined)))
  /** What a scan does goes on: what is scanned, typed or pressed meanwhile comes after it. */
  function goesOn(work: Promise<unknown>): void {
    line = scanUnderWay(Promise.allSettled([line, work]).then(() => undefined))
  }
  /** Ends the looking up of the code at hand: by Escape, or where no answer comes. */
  let leave: () => void = () => undefined
  letGoBy(() => leave())
  async function looked(code: string, at: Element | null): Promise<void> {
    led = true
    const end = new AbortController()
    leave = () => end.abort()
    const card = readOwnCode(code)?.kind === 'command'
    const tail = `…${code.slice(-6)}`
    const waits = card ? 'Doing what the card says' : `Looking up ${tail}`
    const timers = [setTimeout(() => (looking.value = waits), SEEN), setTimeout(leave, MOST)]
    try {
      const over = new Promise<void>(ok => end.signal.addEventListener('abort', () => ok()))
      await Promise.race([one(code, at, end.signal), over])
      if (end.signal.aborted)
        failed(
          new Error(
            card
              ? 'What the card says has not come to its end. Look whether it is done before you scan it once more.'
              : `${tail} was not looked up to the end. Scan it once more.`,
          ),
        )
      if (unknown.value) led = false
    } finally {
      for (const t of timers) clearTimeout(t)
      looking.value = ''
    }
  }
  const failed = (e: unknown) => {
    led = false
    strip.say(said(e), 'bad')
  }
  /**
   * What is pressed or typed while a scan is being looked up is meant for where it leads: it is done once that is there, and not
   * at all where the code led nowhere; `what` says it then.
   */
  function after(what: string, does: () => unknown): void {
    if (!isScanning()) return void does()
    void scanUnderWay(
      (line = line
        .then(async () => {
          await nextTick()
          if (led) await does()
          else strip.say(`${what} is not written down: what was scanned before it led nowhere.`, 'bad')
        })
        .catch(() => undefined)),
    )
  }
  /** Typed by hand after a scan that is still being looked up. */
  const typed = (text: string, ended: boolean): void =>
    after(text ? `“${text}”` : 'That', async () => {
      const [left] = await typeOn(ended ? [text, ''] : [text], null)
      if (left) strip.say(`“${left}” is not written down: no field took it. Type it once more.`, 'bad')
    })
  async function one(code: string, at: Element | null, signal: AbortSignal): Promise<void> {
    try {
      const taker = takerOf(at)
      if (taker && at!.isConnected && readOwnCode(code)?.kind !== 'command' && !isBadge(code) && (await taker(code)))
        return
    } catch (e) {
      return failed(e)
    }
    if (unknown.value) {
      if (readOwnCode(code)?.kind === 'command') {
        await settle(null)
        return
      }
      return strip.say('First say what becomes of the last code. Any card of commands leaves it be.', 'bad')
    }
    // A badge is asked of nobody but the one who signs people in: it is no code of a thing.
    if (isBadge(code)) {
      try {
        for (const taker of [...badges.value].reverse()) if (await taker(code)) return
        return await useSession().changeHands({ badge: code })
      } catch (e) {
        return failed(e)
      }
    }
    heard.value = code
    let meaning: CodeMeaning
    try {
      meaning = await index.meaning(code, signal)
    } catch (e) {
      return signal.aborted ? undefined : failed(e)
    }
    if (signal.aborted) return
    await use(meaning)
  }
  /** Whether a screen wanted it: the one that came up last is asked first. */
  async function taken(meaning: CodeMeaning, named: boolean): Promise<boolean> {
    for (const taker of [...takers.value].reverse()) if (await taker(meaning, named)) return true
    return false
  }
  async function use(meaning: CodeMeaning, named = false): Promise<void> {
    if (meaning.kind === 'command' && (WORKS as readonly string[]).includes(meaning.command!)) {
      await router.push({ name: meaning.command! })
      await nextTick()
      return
    }
    if (meaning.command === 'take_back') {
      strip.act('Take it back')
      return
    }
    if (await taken(meaning, named)) return
    if (meaning.kind === 'unknown') {
      offered.value = offers.value.flatMap(o => o(meaning) ?? [])
      then = m => {
        void use(m)
      }
      unknown.value = meaning
      return
    }
    // A lot's own label opens the lot; a maker's code names the item first.
    if (meaning.kind === 'lot' && meaning.lot?.id) void router.push({ name: 'lot', params: { id: meaning.lot.id } })
    else if (meaning.item) void router.push({ name: 'item', params: { id: meaning.item } })
    else if (meaning.slip) void router.push({ name: 'slip', params: { id: meaning.slip } })
    else if (meaning.sheet)
      void router.push({ name: 'paper', params: { id: meaning.sheet.id }, query: { page: meaning.sheet.page } })
    else if (meaning.place) void router.push({ name: 'stock', query: { place: meaning.place } })
    else if (meaning.party) {
      // Whom it is for, from whom or why begins such a slip, and stands on it.
      const { kind } = meaning.party
      await router.push({ name: kind === 'supplier' ? 'receive' : kind === 'reason' ? 'waste' : 'issue' })
      await nextTick()
      if (!(await taken(meaning, named))) strip.say(`${meaning.party.name}: scan it where a slip is written.`)
    } else {
      led = false
      strip.say(`${meaning.code} means nothing here.`, 'bad')
    }
  }
  async function settle(meaning: CodeMeaning | null): Promise<void> {
    unknown.value = null
    if (meaning) then?.(meaning)
    then = undefined
  }
  // Whoever goes to another work leaves the code be; on that screen the question would be about something else.
  router.afterEach((to, from, stayed) => {
    if (!stayed && to.path !== from.path && unknown.value) void settle(null)
  })
  /** Only the tail of a code came: it is said, and nothing is done with it. */
  const partly = (tail: string): void =>
    strip.say(`Only the end of a code came: …${tail.slice(-6)}. Nothing is done with it; scan it once more.`, 'bad')
  return {
    wants,
    wantsBadge,
    offer,
    scanned,
    goesOn,
    after,
    typed,
    looking,
    leave: () => leave(),
    partly,
    use,
    unknown,
    offered,
    heard,
    settle,
  }
})
