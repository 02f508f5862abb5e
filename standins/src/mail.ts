import { createServer, type Server } from 'node:http'
import { simpleParser } from 'mailparser'
import { SMTPServer } from 'smtp-server'

/** A letter as it arrived, read by another package than the one that wrote it. */
export interface Received {
  readonly at: number
  readonly from: string
  readonly to: readonly string[]
  readonly subject: string
  readonly text: string
  readonly messageId: string
  readonly attachments: readonly { readonly name: string; readonly type: string; readonly content: Buffer }[]
}
/** How it fails, on request: for good, for now, or by hanging up in the middle of a letter. */
export type Failure = 'none' | 'refuses' | 'busy' | 'hangs up'

/**
 * A mail server that keeps what it gets: real SMTP over a socket (RFC 5321), no mail goes anywhere. It shows its letters
 * on a page of its own, and fails as it is told to.
 */
export class MailServer {
  readonly letters: Received[] = []
  failure: Failure = 'none'
  #smtp: SMTPServer | undefined
  #page: Server | undefined

  /** Listens on this machine only; gives the ports (0: any that is free). */
  async start(port = 0, pagePort?: number): Promise<{ port: number; pagePort: number | undefined }> {
    const smtp = new SMTPServer({
      authOptional: true,
      disabledCommands: ['AUTH', 'STARTTLS'],
      logger: false,
      banner: 'Shelve stand-in',
      onRcptTo: (address, _session, done) => {
        if (this.failure === 'refuses') {
          done(Object.assign(new Error(`there is no ${address.address} here`), { responseCode: 550 }))
          return
        }
        if (this.failure === 'busy') {
          done(Object.assign(new Error('try again later'), { responseCode: 451 }))
          return
        }
        done()
      },
      onData: (stream, session, done) => {
        if (this.failure === 'hangs up') {
          stream.resume()
          for (const c of smtp.connections) (c as unknown as { _socket?: { destroy: () => void } })._socket?.destroy()
          return
        }
        simpleParser(stream).then(m => {
          const from = session.envelope.mailFrom
          this.letters.push({
            at: Date.now(),
            from: from ? from.address : '',
            to: session.envelope.rcptTo.map(r => r.address),
            subject: m.subject ?? '',
            text: m.text ?? '',
            messageId: m.messageId ?? '',
            attachments: m.attachments.map(a => ({ name: a.filename ?? '', type: a.contentType, content: a.content })),
          })
          done()
        }, done)
      },
    })
    // A connection that breaks is no reason to stop.
    smtp.on('error', () => undefined)
    this.#smtp = smtp
    await new Promise<void>((ok, no) => {
      smtp.server.once('error', no)
      smtp.listen(port, '127.0.0.1', () => ok())
    })
    if (pagePort !== undefined) {
      this.#page = createServer((request, response) => this.#show(request.method ?? '', request.url ?? '/', response))
      await new Promise<void>((ok, no) => {
        this.#page!.once('error', no)
        this.#page!.listen(pagePort, '127.0.0.1', ok)
      })
    }
    const portOf = (s: { address(): unknown } | undefined) =>
      (s?.address() as { port: number } | null | undefined)?.port
    return { port: portOf(smtp.server)!, pagePort: portOf(this.#page) }
  }
  async stop(): Promise<void> {
    const [page, smtp] = [this.#page, this.#smtp]
    if (page)
      await new Promise<void>(done => {
        page.close(() => done())
        page.closeAllConnections()
      })
    if (smtp)
      await new Promise<void>(done => {
        smtp.close(() => done())
      })
    this.#smtp = this.#page = undefined
  }

  #show(method: string, url: string, response: import('node:http').ServerResponse): void {
    const fail = /^\/fail\?how=(.*)$/.exec(url)
    if (method === 'POST' && fail) {
      this.failure = decodeURIComponent(fail[1]!.replaceAll('+', ' ')) as Failure
      response.writeHead(303, { location: '/' }).end()
      return
    }
    const file = /^\/(\d+)\/(\d+)$/.exec(url)
    const attached = file && this.letters[Number(file[1])]?.attachments[Number(file[2])]
    if (attached) {
      response
        .writeHead(200, {
          'content-type': attached.type,
          'content-disposition': `attachment; filename="${attached.name.replace(/[^\w.-]/g, '-')}"`,
        })
        .end(attached.content)
      return
    }
    const safe = (text: string) => text.replace(/[&<>"]/g, c => `&#${c.charCodeAt(0)};`)
    const how: Failure[] = ['none', 'refuses', 'busy', 'hangs up']
    response.writeHead(200, { 'content-type': 'text/html; charset=utf-8' }).end(
      `<!doctype html><html lang="en"><meta charset="utf-8"><title>Mail stand-in</title><style>body{font:15px/1.5 sans-serif;max-width:50rem;margin:2rem auto;padding:0 1rem}pre{white-space:pre-wrap;background:#f5f2eb;padding:1rem}form{display:inline}</style><h1>Mail stand-in</h1><p>Nothing here goes anywhere. It fails: <b>${this.failure}</b> ${how.map(h => `<form method="post" action="/fail?how=${encodeURIComponent(h)}"><button>${h}</button></form>`).join(' ')}</p>${
        this.letters
          .map(
            (l, i) =>
              `<h2>${safe(l.subject)}</h2><p>from ${safe(l.from)} to ${safe(l.to.join(', '))}, ${new Date(l.at).toISOString()}${l.attachments.map((a, n) => ` · <a href="/${i}/${n}">${safe(a.name)}</a>`).join('')}</p><pre>${safe(l.text)}</pre>`,
          )
          .reverse()
          .join('') || '<p>No letter yet.</p>'
      }</html>`,
    )
  }
}
