import { freshLine } from '../ledger/fresh.ts'
import { useSlip } from '../ledger/slip-store.ts'
import { get, said } from '../shell/api.ts'
import { useSession } from '../shell/session.ts'
import { useStrip } from '../shell/strip.ts'

/** Puts everything that lies in a place on the move that is being written. */
export function useTakeAll(): (place: string) => Promise<void> {
  const slip = useSlip()
  const session = useSession()
  const strip = useStrip()
  /** Lot by lot. */
  return async place => {
    try {
      const { lines } = await get<{
        lines: {
          item: string
          lot: { id: string; code: string | null; expiry: string | null } | null
          place: string
          expected: string
        }[]
      }>(`/api/sheets?place=${place}&figures=yes`)
      const lying = lines.filter(l => l.expected !== '0')
      for (const l of lying)
        slip.add(
          freshLine({
            item: l.item,
            typed: l.expected,
            from: l.place,
            lot: l.lot ? { id: l.lot.id, code: l.lot.code ?? '', expiry: l.lot.expiry } : null,
          }),
        )
      strip.say(
        lying.length
          ? `All of ${session.placeName(place)}: ${lying.length} line${lying.length === 1 ? '' : 's'}. Now say where it goes.`
          : `Nothing lies in ${session.placeName(place)}.`,
        lying.length ? 'good' : 'bad',
      )
    } catch (e) {
      strip.say(said(e), 'bad')
    }
  }
}
