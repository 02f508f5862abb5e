import { normaliseCode, readGs1 } from '@shelve/core'
import type { CodeMeaning, SlipLine } from '@shelve/contract'
import { useIndex } from '../shell/index-store.ts'
import { useSession } from '../shell/session.ts'
import type { CodeTaker } from './code-field.ts'

/** What a field that is for codes does with a scan, by what it is for. To be called in the set-up of a view. */
export function useTakers() {
  const index = useIndex()
  const session = useSession()
  const plain = (code: string) => code.replaceAll('\x1d', '')

  /** A filter: by the code of the item that was scanned, else by what was scanned. */
  const filter =
    (set: (words: string) => void): CodeTaker =>
    async code => {
      const m = await index.meaning(code).catch(() => undefined)
      set((m?.item && index.byId.get(m.item)?.code) || plain(code))
      return true
    }
  /** Barcodes, one after the other with a blank between: each once, of a GS1 code its item number. */
  const collect =
    (codes: () => string, set: (codes: string) => void): CodeTaker =>
    async code => {
      const m = await index.meaning(code).catch(() => undefined)
      const has = codes()
        .split(/[\s,;]+/)
        .filter(Boolean)
      const one = plain(m?.code ?? code)
      if (!has.some(c => normaliseCode(c) === normaliseCode(one))) set([...has, one].join(' '))
      return true
    }
  /** A number of theirs: whatever names nothing of ours. A box that is scanned next is no delivery note. */
  const number =
    (set: (number: string) => void): CodeTaker =>
    async code => {
      const m = await index.meaning(code)
      if (m.kind !== 'unknown') return false
      set(plain(code))
      return true
    }
  /** What finds one item: whatever names it. */
  const item =
    (pick: (item: NonNullable<ReturnType<typeof index.byId.get>>) => void): CodeTaker =>
    async code => {
      const m = await index.meaning(code)
      const found = m.item ? index.byId.get(m.item) : undefined
      if (found) pick(found)
      return found !== undefined
    }
  /**
   * A lot or serial number of one item: as it stands on the label, or out of a GS1 code, with its date. What names
   * another item, a place or a card is not for this field.
   */
  const lot =
    (of: () => string | null | undefined, set: (lot: NonNullable<CodeMeaning['lot']>) => void): CodeTaker =>
    async code => {
      const m = await index.meaning(code)
      const written = readGs1(code, session.day())
      const bare = written.ok && !written.reading.gtin ? (written.reading.serial ?? written.reading.lot) : undefined
      if (m.lot && m.item === of()) set(m.lot)
      else if (bare) set({ id: null, code: bare, expiry: (written.ok && written.reading.expiry) || null })
      else if (
        (m.kind === 'unknown' && !m.lot) ||
        (m.kind === 'lot' && m.lot?.code.toUpperCase() === code.toUpperCase())
      )
        set({ id: null, code: plain(code), expiry: null })
      else return false
      return true
    }
  /** The same on a line: a date that the label does not say stays as it was written. */
  const lotOn = (line: () => { readonly item: string | null; lot: SlipLine['lot'] } | undefined): CodeTaker =>
    lot(
      () => line()?.item,
      said => {
        const on = line()
        if (on) on.lot = { ...said, expiry: said.expiry ?? on.lot?.expiry ?? null }
      },
    )
  return { filter, collect, number, item, lot, lotOn }
}
