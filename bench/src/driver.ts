import { fork, type ChildProcess } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { Agent, request } from 'node:http'
import { v7 } from 'uuid'
import type { SlipContentInput } from '@shelve/contract'
import { serving } from '../../tools/setup.mjs'

const STALL = new URL('./stall.mjs', import.meta.url).href
const MAIN = fileURLToPath(new URL('../../server/dist/main.mjs', import.meta.url))
type Line = NonNullable<SlipContentInput['lines']>[number]
export const line = (more: Partial<Line>): Line => ({ id: v7(), ...more })

/** Runs something; gives how long the loop of a process that has `stall.mjs` in it stood still at most meanwhile (ms). */
async function stoodBeside(child: ChildProcess, run: () => Promise<unknown>): Promise<number> {
  const said = () => new Promise(ok => child.once('message', ok))
  const watching = said()
  child.send('watch')
  await watching
  await run()
  const told = said()
  child.send('stood')
  return ((await told) as { stood: number }).stood
}
/** The same of a process that does nothing: so long the machine lets anybody wait beside what is run. */
export async function idleStood(run: () => Promise<unknown>): Promise<number> {
  const idle = fork(fileURLToPath(STALL), ['idle'], { execArgv: [], stdio: ['ignore', 'ignore', 'inherit', 'ipc'] })
  try {
    return await stoodBeside(idle, run)
  } finally {
    idle.kill()
  }
}

/** The server as it is bundled for use, as a process of its own, and HTTP clients that keep their connections. */
export class Driver {
  #cookie = ''
  readonly #agent = new Agent({ keepAlive: true, maxSockets: 16 })
  private constructor(
    readonly child: ChildProcess,
    readonly port: number,
    readonly startMs: number,
  ) {}

  static async start(data: string): Promise<Driver> {
    const began = Date.now()
    const child = fork(MAIN, [], {
      execArgv: [
        ...serving.flags,
        `--import=${STALL}`,
        ...(process.env.SHELVE_PROFILE ? ['--cpu-prof', `--cpu-prof-dir=${process.env.SHELVE_PROFILE}`] : []),
      ],
      stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
      env: {
        ...process.env,
        ...serving.env,
        SHELVE_PORT: '0',
        SHELVE_BACKUP_HOURS: '0',
        SHELVE_DATA: data,
        SHELVE_LOG: 'error',
        SHELVE_WEB: fileURLToPath(new URL('../../web/dist', import.meta.url)),
      },
    })
    const port = await new Promise<number>((ok, no) => {
      child.once('message', m => ok((m as { port: number }).port))
      child.once('exit', code => no(new Error(`the server ended with ${code}`)))
    })
    const driver = new Driver(child, port, Date.now() - began)
    await driver.call('POST', '/api/session', { signIn: 'bench', password: 'bench bench' })
    return driver
  }
  call<T = unknown>(
    method: string,
    path: string,
    body?: unknown,
    headers: Readonly<Record<string, string>> = {},
  ): Promise<{ status: number; body: T }> {
    return new Promise((ok, no) => {
      const text = body === undefined ? undefined : JSON.stringify(body)
      const r = request(
        {
          host: '127.0.0.1',
          port: this.port,
          method,
          path,
          agent: this.#agent,
          headers: {
            ...headers,
            cookie: this.#cookie,
            ...(text === undefined
              ? {}
              : { 'content-type': 'application/json', 'content-length': Buffer.byteLength(text) }),
          },
        },
        response => {
          const set = response.headers['set-cookie']?.[0]
          if (set) this.#cookie = set.split(';')[0]!
          const chunks: Buffer[] = []
          response.on('data', (c: Buffer) => chunks.push(c))
          response.on('end', () => {
            const t = Buffer.concat(chunks).toString()
            ok({ status: response.statusCode!, body: (t ? JSON.parse(t) : undefined) as T })
          })
        },
      )
      // A kept connection may be closed by the server just as it is used again; what was sent carries its own id.
      r.on('error', (e: NodeJS.ErrnoException) =>
        r.reusedSocket && e.code === 'ECONNRESET' ? this.call<T>(method, path, body, headers).then(ok, no) : no(e),
      )
      r.end(text)
    })
  }
  /** Reads something long as it comes, and keeps nothing of it. Gives its length. */
  drain(path: string, accept: string): Promise<number> {
    return new Promise((ok, no) => {
      const r = request(
        { host: '127.0.0.1', port: this.port, path, agent: this.#agent, headers: { cookie: this.#cookie, accept } },
        response => {
          let length = 0
          response.on('data', (c: Buffer) => (length += c.length))
          response.on('end', () =>
            response.statusCode === 200 ? ok(length) : no(new Error(`${path}: ${response.statusCode}`)),
          )
        },
      )
      r.on('error', no)
      r.end()
    })
  }
  /** Books a slip as screens do: what stands on it is known here, and told back (`whole`) only where that is measured. */
  async book(content: SlipContentInput, whole = false): Promise<string> {
    const id = v7()
    const prefer: Record<string, string> = whole ? {} : { prefer: 'return=minimal' }
    const r = await this.call('POST', `/api/slips/${id}/booking`, { content, seen: null }, prefer)
    if (r.status !== 201) throw new Error(`not booked: ${JSON.stringify(r.body).slice(0, 400)}`)
    return id
  }
  /** Runs something; gives how long the server's request loop stood still at most meanwhile, in milliseconds. */
  stoodBeside(run: () => Promise<unknown>): Promise<number> {
    return stoodBeside(this.child, run)
  }
  /** Resident memory of the server in megabytes. */
  memory(): number {
    return Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${this.child.pid}/status`, 'utf8'))![1]) / 1024
  }
  async stop(): Promise<void> {
    this.#agent.destroy()
    const ended = new Promise(done => this.child.once('exit', done))
    this.child.kill('SIGTERM')
    await ended
  }
}
