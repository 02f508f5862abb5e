import type { House } from './house.ts'

/** The next number of a kind of slip; taken inside the booking's own transaction, so that nothing has gaps. */
export const nextNumber = (house: House, kind: string): number => house.rows.nextNumber.get({ kind })!.next - 1
