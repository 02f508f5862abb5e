import type { BookedSlip } from '@shelve/contract'
import { call, goneOn, post } from '../shell/api.ts'

/** Books a slip: its content, or what was seen of its draft. What stands on it is known here already, and not told back. */
export async function bookSlip(id: string, body: object): Promise<BookedSlip> {
  const booked = await call<BookedSlip>('POST', `/api/slips/${id}/booking`, { body, briefly: true })
  goneOn()
  return booked
}

/** Takes a booked slip back, whole or by lines; the new slip's id stands in what is said. */
export const takeSlipBack = (
  slip: string,
  body: { id: string; lines?: string[] | null; why?: string },
): Promise<BookedSlip> => post<BookedSlip>(`/api/slips/${slip}/reversal`, body, { briefly: true })
