import type { RestockView } from '@shelve/contract'
import { type Writing, writtenDay } from '@shelve/core'

/** A restock slip in words, as it is mailed: whom it is for, each line with its quantity, the note. */
export function letterOf(
  v: RestockView,
  organisation: Writing & { readonly name: string },
  today: string,
  by: string,
): { subject: string; text: string } {
  const amounts = v.lines.map(l => `${l.typed.trim() || l.quantity} ${l.unit ?? l.base}`)
  const width = Math.max(...amounts.map(a => a.length))
  const lines = v.lines.map((l, i) => `${amounts[i]!.padStart(width)}  ${l.name} (${l.code})`)
  const greeting = v.source.kind === 'supplier' ? `To ${v.name}` : `For ${v.name}`
  return {
    subject: `${organisation.name}: ${v.number}, ${v.lines.length} line${v.lines.length === 1 ? '' : 's'} we ask for, ${writtenDay(today, organisation)}`,
    text: [
      `${greeting},`,
      '',
      'please let us have:',
      '',
      ...lines,
      ...(v.note ? ['', v.note] : []),
      ...(v.asked?.expected ? ['', `We expect it by ${writtenDay(v.asked.expected, organisation)}.`] : []),
      '',
      by,
      organisation.name,
      `Our number: ${v.number}`,
      '',
    ].join('\n'),
  }
}
