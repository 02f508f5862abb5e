import type { SlipLine } from '@shelve/contract'
import { useParties } from '../places/parties.ts'
import { useIndex } from '../shell/index-store.ts'
import { useSession } from '../shell/session.ts'
import { useFormat } from '../ui/format.ts'
import { freshLine } from './fresh.ts'

/** Fields of a slip's head, as they are called where they differ. */
const HEAD_WORDS: Record<string, string> = {
  place: 'the place',
  effectiveAt: 'the time',
  taker: 'who took or brought it',
  supplier: 'the supplier',
  deliveryNote: 'the delivery note',
  charges: 'freight and fees',
  costCentre: 'the cost centre',
  job: 'the job',
  extra: 'the cost beside what goes in',
  goesOn: 'whether more is made later',
  corrects: 'what it puts right',
  reason: 'the reason',
  method: 'the cost method',
  note: 'the note',
  why: 'why',
  pictures: 'the pictures',
  blind: 'whether figures are shown',
}

/** What lines and heads of slips say, in words: for showing one version beside another. */
export function useSays() {
  const index = useIndex()
  const session = useSession()
  const parties = useParties()
  const f = useFormat()
  const EMPTY = freshLine({ id: '' })

  /** What a line says that `beside` does not say the same. */
  function line(l: SlipLine, beside: SlipLine | undefined): string {
    const item = l.item ? index.byId.get(l.item) : undefined
    const other = beside ?? EMPTY
    const differs = (field: keyof SlipLine) => JSON.stringify(l[field]) !== JSON.stringify(other[field])
    const words: string[] = []
    if (differs('item')) words.push(item?.name ?? '')
    if (differs('counted') || differs('typed') || differs('unit') || differs('again'))
      words.push(
        l.counted === 'confirmed'
          ? 'as expected'
          : `${l.typed || 'no quantity'} ${l.unit ?? item?.unit ?? ''}${l.again ? `, again ${l.again}` : ''}`,
      )
    if (differs('lot')) words.push(l.lot ? `lot ${l.lot.code} ${f.date(l.lot.expiry)}`.trim() : 'no lot')
    if (differs('from')) words.push(l.from ? `from ${session.placeName(l.from)}` : 'from any bin')
    if (differs('to')) words.push(l.to ? `into ${session.placeName(l.to)}` : 'into its usual bin')
    if (differs('direct') && l.direct)
      words.push(`for ${[parties.nameOf(l.direct), l.direct.person].filter(Boolean).join(', ')}`)
    if (differs('price') || differs('discount')) words.push(l.price ? `price ${l.price}` : 'no price')
    if (differs('reason')) words.push(l.reason ? 'another reason' : 'not wasted')
    if (differs('side')) words.push(l.side === 'out' ? 'comes out' : 'goes in')
    if (differs('share')) words.push(`part of the cost ${l.share || '1'}`)
    if (differs('note')) words.push(l.note ? `“${l.note}”` : 'no note')
    if (differs('picture')) words.push(l.picture ? 'with a picture' : 'no picture')
    return words.filter(Boolean).join(', ') || 'something else'
  }
  function head(field: string, value: unknown): string {
    if (value === null || value === '' || (Array.isArray(value) && !value.length)) return 'nothing'
    if (field === 'place') return session.placeName(value as string)
    if (field === 'effectiveAt') return f.when(value as string)
    if (field === 'job') return parties.nameOf({ job: value as string, costCentre: null })
    if (field === 'costCentre') return parties.nameOf({ job: null, costCentre: value as string })
    if (field === 'charges')
      return (value as { label: string; amount: string }[]).map(c => `${c.label} ${c.amount}`).join(', ')
    if (field === 'pictures') return `${(value as unknown[]).length} of them`
    return typeof value === 'string' ? value : 'something else'
  }
  return { line, head, fieldName: (field: string): string => HEAD_WORDS[field] ?? field }
}
