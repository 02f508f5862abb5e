import { and, asc, eq, lte } from 'drizzle-orm'
import { createTransport, type Transporter } from 'nodemailer'
import type { House } from '../people/index.ts'
import type { Letter } from './letter.ts'
import { mail } from './tables.ts'

/** Where mail is handed over (`smtp://` or `smtps://`, with name and password where they are wanted), and whom it comes from. */
export interface MailPlan {
  readonly url: string
  readonly from: string
}

const MINUTE = 60_000

/** How long after each failure it is tried again: soon at first, at last twice a day; after five days no more. */
const AGAIN = [1, 5, 15, 60, 240, 720].map(m => m * MINUTE)

const GIVE_UP = 5 * 86_400_000

/**
 * Hands queued letters to the mail server, one after the other. While it is down they wait and are tried again; what it
 * refuses for good is shown with its words. A letter keeps its Message-ID, so that one sent twice over a broken
 * connection is known as the same.
 */
export class Post {
  readonly #house: House
  readonly #from: string
  readonly #transport: Transporter
  #running: Promise<void> | undefined
  #timer: NodeJS.Timeout | undefined
  constructor(
    house: House,
    plan: MailPlan,
    readonly tell: (message: string) => void = () => undefined,
  ) {
    this.#house = house
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
    const house = this.#house
    for (;;) {
      const m = house.db
        .select()
        .from(mail)
        .where(and(eq(mail.state, 'queued'), lte(mail.nextAt, house.now())))
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
      const over = trouble !== '' && (final || house.now() - m.createdAt > GIVE_UP)
      house.change('mail', () =>
        house.db
          .update(mail)
          .set({
            attempts,
            trouble,
            state: trouble === '' ? 'sent' : over ? 'failed' : 'queued',
            sentAt: trouble === '' ? house.now() : null,
            nextAt: house.now() + AGAIN[Math.min(attempts, AGAIN.length) - 1]!,
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
