import { desc, eq, sql } from 'drizzle-orm'
import type { MailView } from '@shelve/contract'
import { iso, once, Refused } from '../ground/index.ts'
import type { House } from './house.ts'
import type { Letter } from './letter.ts'
import { mail } from './tables.ts'

/** Puts a letter into the queue, within the running transaction: it is sent once that is there to stay. */
export function queueMail(house: House, by: number, letter: Letter): string {
  if (!house.post)
    throw new Refused(
      409,
      'no_mail',
      'This server sends no mail: nobody told it where to hand mail over (SHELVE_MAIL).',
    )
  const uid = house.uid()
  house.db
    .insert(mail)
    .values({
      uid,
      recipient: letter.to,
      subject: letter.subject,
      body: letter.text,
      attachments: JSON.stringify(letter.attachments),
      restockId: letter.restockId,
      state: 'queued',
      attempts: 0,
      nextAt: house.now(),
      trouble: '',
      createdAt: house.now(),
      createdBy: by,
    })
    .run()
  return uid
}

const lettersOf = once((house: House) =>
  house.db
    .select()
    .from(mail)
    .where(eq(mail.restockId, sql.placeholder('restock')))
    .orderBy(desc(mail.id))
    .prepare(),
)
/** The letters about a restock slip, the latest first. */
export const mailsOf = (house: House, restockId: number): MailView[] =>
  lettersOf(house)
    .all({ restock: restockId })
    .map(m => ({
      id: m.uid,
      to: m.recipient,
      subject: m.subject,
      state: m.state as MailView['state'],
      attempts: m.attempts,
      at: iso(m.createdAt),
      sentAt: m.sentAt === null ? null : iso(m.sentAt),
      nextAt: m.state === 'queued' && m.attempts ? iso(m.nextAt) : null,
      trouble: m.trouble || null,
    }))

/** Tries a letter again at once that waits or was given up. */
export function retryMail(house: House, uid: string): void {
  const m = house.db.select().from(mail).where(eq(mail.uid, uid)).get()
  if (!m) throw new Refused(404, 'not_found', 'There is no such mail.')
  if (m.state === 'sent') throw new Refused(409, 'sent_already', 'This mail was sent already.')
  house.db.update(mail).set({ state: 'queued', nextAt: house.now() }).where(eq(mail.id, m.id)).run()
}
