import { MailServer } from './index.ts'

/** The outside world of the demonstration: a mail server on SHELVE_MAIL_PORT with its page on the port after it. */
const port = Number(process.env.SHELVE_MAIL_PORT ?? 4461)
const server = new MailServer()
const { pagePort } = await server.start(port, port + 1)
console.log(`The mail stand-in shows its letters at http://localhost:${pagePort}`)
for (const signal of ['SIGINT', 'SIGTERM'] as const)
  process.on(signal, () => void server.stop().then(() => process.exit(0)))
