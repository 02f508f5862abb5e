import type { ComputedRef, Ref } from 'vue'
import type { DifferingField, LineChange, StoredLine, ToldLine } from '@shelve/core'

/** A paper as the server tells it: whole, or what was saved of its lines since a version. */
export interface Told<H, L> {
  readonly version: number
  readonly revision: number
  readonly by: string
  readonly savedAt: string
  readonly head: H
  readonly lines: readonly ToldLine<L>[]
  /** Whether these are all its lines. */
  readonly whole: boolean
  /** Shows what else is known of it, called when its lines stand on the screen: neither is seen without the other. */
  readonly shown?: () => void
}
/** What came of a saving. `was`: the id under which a line was sent, where that differs. */
export interface Saved<H, L> {
  readonly version: number
  /** The version it was saved upon: another than the one known means that somebody saved in between. */
  readonly before: number
  readonly revision: number
  readonly savedAt: string
  readonly lines: readonly { id: string; revision: number; position: number; was: string | null }[]
  readonly stale: {
    readonly head: { readonly revision: number; readonly by: string; readonly theirs: H } | null
    readonly lines: readonly (ToldLine<L> & { readonly was: string | null })[]
  }
}
/** How a kind of paper is read, saved and thrown away. */
export interface PaperWire<H, L> {
  read(id: string, since: number): Promise<Told<H, L>>
  /** Begins it under its id; a paper that is made elsewhere is never begun so. */
  begin?(id: string, head: H, lines: readonly L[]): Promise<Saved<H, L>>
  save(
    id: string,
    changes: { readonly head?: H; readonly lines: readonly LineChange<L>[] },
    revision: number,
    leaving: boolean,
  ): Promise<Saved<H, L>>
  drop(id: string, version: number): Promise<unknown>
}
/** What of the paper stands on the screen. */
export interface Screen<H, L> {
  readonly head: H
  readonly lines: readonly L[]
}
export interface Options<H, L> {
  readonly wire: PaperWire<H, L>
  /** Under this and its id a paper is kept on the device. */
  readonly kept: string
  readonly get: () => Screen<H, L>
  readonly set: (screen: Screen<H, L>) => void
  /** A paper that says nothing yet is not worth keeping. */
  readonly empty: () => boolean
  /** So long after the last keystroke it is saved. */
  readonly soon: number
  /** The name of whoever sits here. */
  readonly me: () => string
}
/** Why a paper is not saved any more, and what is on the screen only. */
export interface Ended {
  /** Thrown away, it is not there; else it was booked, or asked for. */
  readonly gone: boolean
  readonly message: string
  readonly unsaved: boolean
  /** Lines that were put on here and never saved. */
  readonly added: readonly string[]
}

/** A paper that is being written: what `useDraft` gives. */
export interface Draft<L> {
  readonly id: Ref<string>
  readonly savedAt: Ref<string | null>
  readonly trouble: Ref<string>
  /** Lines that somebody else saved otherwise: what is on the screen stays until it is said which stands. */
  readonly differing: Ref<ReadonlyMap<string, ToldLine<L>>>
  readonly differingHead: Ref<{ readonly by: string; readonly fields: readonly DifferingField[] } | null>
  readonly unsettled: ComputedRef<number>
  /** Who else saved something on it since it was opened here. */
  readonly company: Ref<readonly string[]>
  /** It was booked, asked for or thrown away elsewhere: why it is not saved any more. */
  readonly ended: Ref<Ended | null>
  /** Whether the server has it, and at which version. */
  readonly version: () => number
  begin(id: string): void
  /** `left`: another paper stands here by the time it is read. */
  open(id: string): Promise<'there' | 'here' | 'none' | 'left'>
  close(): void
  changed(): void
  save(leaving?: boolean): Promise<void>
  /** Whether something is on its way to the server. */
  saving(): boolean
  /** Nothing is saved by itself until something is typed again. */
  hold(): void
  /** Something became of the paper elsewhere; resolves when what there is to hear is heard. */
  heard(version: number | undefined): Promise<void>
  settleLine(id: string, mine: boolean): void
  settleHead(field: string, mine: boolean): void
  seen(): { revision: number; lines: { id: string; revision: number }[] }
  unsaved(): boolean
  forget(id?: string): void
  drop(): Promise<void>
}

/** What is known of the server's: the paper at a version. */
export interface Base<H, L> {
  version: number
  revision: number
  head: H | null
  lines: Map<string, StoredLine<L>>
  savedAt: string | null
  /** Which records the server had by then (`records`). */
  records?: string
}
/** What of a paper is kept on the device. */
export interface Kept<H, L> {
  readonly mine: Screen<H, L>
  readonly base: Omit<Base<H, L>, 'lines'> & { readonly lines: readonly (readonly [string, StoredLine<L>])[] }
  readonly sent: readonly Sent<H, L>[]
}
/** What was sent for saving; a line that was taken off is null. */
export interface Sent<H, L> {
  readonly head: H | undefined
  readonly lines: readonly (readonly [string, L | null])[]
}
