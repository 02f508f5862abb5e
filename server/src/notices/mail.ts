import { and, asc, eq, lte } from 'drizzle-orm'
import { createTransport, type Transporter } from 'nodemailer'
import type { MailView } from '@shelve/contract'
import { mail } from '../db/schema.ts'
import { iso, Refused, type App } from '../app.ts'

/** Where mail is handed over (`smtp://` or `smtps://`, with name and password where they are wanted), and whom it comes from. */
export interface MailPlan {
  readonly url: string
  readonly from: string
}
export interface Letter {
  readonly to: string
  readonly subject: string
  readonly text: string
  readonly attachments: readonly { readonly filename: string; readonly type: string; readonly base64: string }[]
  readonly restockId: number | null
}

const MINUTE = 60_000
/** How long after each failure it is tried again: soon at first, at last twice a day; after five days no more. */
const AGAIN = [1, 5, 15, 60, 240, 720].map(m => m * MINUTE)
const GIVE_UP = 5 * 86_400_000

/** Puts a letter into the queue, within the running transaction: it is sent once that is there to stay. */
export function queueMail(app: App, by: number, letter: Letter): string {
  if (!app.options.mail)
    throw new Refused(
      409,
      'no_mail',
      'This server sends no mail: nobody told it where to hand mail over (SHELVE_MAIL).',
    )
  const uid = app.uid()
  app.db
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
      nextAt: app.now(),
      trouble: '',
      createdAt: app.now(),
      createdBy: by,
    })
    .run()
  return uid
}
/** The letters about a restock slip, the latest first. */
export const mailsOf = (app: App, restockId: number): MailView[] =>
  app.db
    .select()
    .from(mail)
    .where(eq(mail.restockId, restockId))
    .orderBy(asc(mail.id))
    .all()
    .reverse()
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
export function retryMail(app: App, uid: string): void {
  const m = app.db.select().from(mail).where(eq(mail.uid, uid)).get()
  if (!m) throw new Refused(404, 'not_found', 'There is no such mail.')
  if (m.state === 'sent') throw new Refused(409, 'sent_already', 'This mail was sent already.')
  app.db.update(mail).set({ state: 'queued', nextAt: app.now() }).where(eq(mail.id, m.id)).run()
}
/**
 * Hands queued letters to the mail server, one after the other. While it is down they wait and are tried again; what it
 * refuses for good is shown with its words. A letter keeps its Message-ID, so that one sent twice over a broken
 * connection is known as the same.
 */
export class Post {
  readonly #app: App
  readonly #from: string
  readonly #transport: Transporter
  #running: Promise<void> | undefined
  #timer: NodeJS.Timeout | undefined
  constructor(
    app: App,
    plan: MailPlan,
    readonly tell: (message: string) => void = () => undefined,
  ) {
    this.#app = app
    this.#from = plan.from
    this.#transport = createTransport({
      url: plan.url,
      connectionTimeout: 15_000,
      greetingTimeout: 10_000,
      socketTimeout: 30_000,
      disableFileAccess: true,
      disableUrlAccess: true,
    } as never)
  }

  /** Sends what is due. Called after a letter was queued, and every half minute. */
  tick(): Promise<void> {
    return (this.#running ??= this.#send().finally(() => {
      this.#running = undefined
    }))
  }
  async #send(): Promise<void> {
    const app = this.#app
    for (;;) {
      const m = app.db
        .select()
        .from(mail)
        .where(and(eq(mail.state, 'queued'), lte(mail.nextAt, app.now())))
        .orderBy(asc(mail.nextAt), asc(mail.id))
        .limit(1)
        .get()
      if (!m) return
      let trouble = ''
      let final = false
      try {
        const attachments = (JSON.parse(m.attachments) as Letter['attachments']).map(a => ({
          filename: a.filename,
          contentType: a.type,
          content: Buffer.from(a.base64, 'base64'),
        }))
        await this.#transport.sendMail({
          from: this.#from,
          to: m.recipient,
          subject: m.subject,
          text: m.body,
          attachments,
          messageId: `<${m.uid}@shelve>`,
          date: new Date(m.createdAt),
        })
      } catch (e) {
        const { responseCode, message } = e as { responseCode?: number; message: string }
        trouble = message.slice(0, 300)
        // 5xx: refused for good (RFC 5321, 4.2.1); all else may pass.
        final = responseCode !== undefined && responseCode >= 500
      }
      const attempts = m.attempts + 1
      const over = trouble !== '' && (final || app.now() - m.createdAt > GIVE_UP)
      app.change('mail', () =>
        app.db
          .update(mail)
          .set({
            attempts,
            trouble,
            state: trouble === '' ? 'sent' : over ? 'failed' : 'queued',
            sentAt: trouble === '' ? app.now() : null,
            nextAt: app.now() + AGAIN[Math.min(attempts, AGAIN.length) - 1]!,
          })
          .where(eq(mail.id, m.id))
          .run(),
      )
      if (trouble) this.tell(`mail to ${m.recipient.replace(/^[^@]*/, '…')} was not taken: ${trouble}`)
    }
  }
  start(everyMs = 30_000): void {
    this.#timer = setInterval(() => void this.tick(), everyMs)
    this.#timer.unref()
    setTimeout(() => void this.tick(), 1000).unref()
  }
  stop(): void {
    clearInterval(this.#timer)
    this.#transport.close()
  }
}
