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

type Queued = typeof mail.$inferSelect
/** How it went to hand a letter over: `trouble` in the mail server's words, none where it was taken; `final`: it never will be. */
interface HandedOver {
  readonly letter: Queued
  readonly trouble: string
  readonly final: boolean
}

/**
 * Hands queued letters to the mail server, one after the other. While it is down they wait and are tried again; what it
 * refuses for good is shown with its words. A letter keeps its Message-ID, so that one sent twice over a broken
 * connection is known as the same. What became of one and cannot be written down (a full disk) is written before anything
 * else goes out, so that nobody gets it every half minute.
 */
export class Post {
  readonly #house: House
  readonly #from: string
  readonly #transport: Transporter
  readonly #timers: NodeJS.Timeout[] = []
  #running: Promise<void> | undefined
  #unwritten: HandedOver | undefined
  #stopped = false
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

  /** Sends what is due. Called after a letter was queued, and every half minute. Never fails: what goes wrong is told. */
  tick(): Promise<void> {
    return (this.#running ??= this.#send()
      .catch((e: Error) => this.tell(`mail is not sent: ${e.message}`))
      .finally(() => {
        this.#running = undefined
      }))
  }
  async #send(): Promise<void> {
    // Once it is stopped the house may be closed: what is under way then goes out again after the next start, known as the same.
    while (!this.#stopped) {
      if (this.#unwritten) this.#write(this.#unwritten)
      const letter = this.#due()
      if (!letter) return
      this.#unwritten = await this.#handOver(letter)
    }
  }
  #due(): Queued | undefined {
    return this.#house.db
      .select()
      .from(mail)
      .where(and(eq(mail.state, 'queued'), lte(mail.nextAt, this.#house.now())))
      .orderBy(asc(mail.nextAt), asc(mail.id))
      .limit(1)
      .get()
  }
  async #handOver(letter: Queued): Promise<HandedOver> {
    try {
      const attachments = (JSON.parse(letter.attachments) as Letter['attachments']).map(a => ({
        filename: a.filename,
        contentType: a.type,
        content: Buffer.from(a.base64, 'base64'),
      }))
      await this.#transport.sendMail({
        from: this.#from,
        to: letter.recipient,
        subject: letter.subject,
        text: letter.body,
        attachments,
        messageId: `<${letter.uid}@shelve>`,
        date: new Date(letter.createdAt),
      })
      return { letter, trouble: '', final: false }
    } catch (e) {
      const { responseCode, message } = e as { responseCode?: number; message: string }
      // 5xx: refused for good (RFC 5321, 4.2.1); all else may pass.
      return {
        letter,
        trouble: message.slice(0, 300) || 'no answer',
        final: responseCode !== undefined && responseCode >= 500,
      }
    }
  }
  #write(how: HandedOver): void {
    const house = this.#house
    const { letter, trouble, final } = how
    const attempts = letter.attempts + 1
    const over = trouble !== '' && (final || house.now() - letter.createdAt > GIVE_UP)
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
        .where(eq(mail.id, letter.id))
        .run(),
    )
    this.#unwritten = undefined
    if (trouble) this.tell(`mail to ${letter.recipient.replace(/^[^@]*/, '…')} was not taken: ${trouble}`)
  }
  start(everyMs = 30_000, firstMs = 1000): void {
    this.#timers.push(
      setTimeout(() => void this.tick(), firstMs).unref(),
      setInterval(() => void this.tick(), everyMs).unref(),
    )
  }
  stop(): void {
    this.#stopped = true
    for (const t of this.#timers) clearTimeout(t)
    this.#transport.close()
  }
}
