// What keeps the data and the server whole: who may read the files, one server for each directory, full and damaged disks, and what strangers may send.
import { fork, spawn, spawnSync, type ChildProcess } from 'node:child_process'
import { randomBytes } from 'node:crypto'
import {
  chmodSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  truncateSync,
  writeFileSync,
} from 'node:fs'
import { connect } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect } from 'chai'
import { compose, DATABASE, serve } from '@shelve/server'
import { Backups, backupsIn } from '../src/ground/index.ts'
import { Client, PNG, sendPicture, world, type World } from './client.ts'
import { CLI, MAIN } from './shipped.ts'

const env = (data: string) => ({
  ...process.env,
  SHELVE_PORT: '0',
  SHELVE_DATA: data,
  SHELVE_LOG: 'warn',
  SHELVE_SIGN_INS: '1000',
  SHELVE_HERE: data,
})
const listens = (child: ChildProcess) =>
  new Promise<number>((ok, no) => {
    let said = ''
    child.stderr!.on('data', (d: Buffer) => (said += d.toString()))
    child.once('message', m => ok((m as { port: number }).port))
    child.once('exit', code => no(new Error(`ended with ${code}: ${said}`)))
  })
const ended = (child: ChildProcess) => new Promise(done => child.once('exit', done))
const start = async (data: string) => {
  const child = fork(MAIN, [], { silent: true, env: env(data) })
  return { child, port: await listens(child) }
}
const said = (p: Promise<unknown>) =>
  p.then(
    () => 'started',
    (e: Error) => e.message,
  )
const begin = async (port: number) => {
  const c = new Client(`http://127.0.0.1:${port}`)
  await c.ok('POST', '/api/start', {
    organisation: { name: 'X', zone: 'UTC', currency: 'EUR', decimalMark: '.', dateOrder: 'dmy' },
    manager: { name: 'Y', signIn: 'yy', password: 'correct horse' },
    area: 'Store',
  })
  return c
}
/** A PNG of so many bytes: one pixel, and what programs that draw it pass over. */
const large = (bytes: number) => {
  const head = PNG.subarray(0, PNG.length - 12)
  const filler = Buffer.alloc(12 + bytes)
  filler.writeUInt32BE(bytes, 0)
  filler.write('prVt', 4, 'latin1')
  randomBytes(bytes).copy(filler, 8)
  return Buffer.concat([head, filler, PNG.subarray(PNG.length - 12)])
}

describe('a data directory', () => {
  let data: string
  beforeEach(() => {
    data = mkdtempSync(join(tmpdir(), 'shelve-safe-'))
  })
  afterEach(() => rmSync(data, { recursive: true, force: true }))

  it('is for the eyes of the server’s own user, also what lay there before', async () => {
    mkdirSync(join(data, 'pictures'))
    writeFileSync(join(data, 'pictures', 'old.png'), PNG)
    for (const [path, mode] of [
      ['pictures/old.png', 0o644],
      ['pictures', 0o755],
      ['.', 0o755],
    ] as const)
      chmodSync(join(data, path), mode)
    const { child, port } = await start(data)
    const c = await begin(port)
    let log = ''
    child.stdout!.on('data', (d: Buffer) => (log += d.toString()))
    expect((await sendPicture(c)).status).to.equal(201)
    await c.ok('POST', '/api/backups')
    const wrong = { signIn: 'yy', password: 'a wrong one' }
    expect((await new Client(c.base).call('POST', '/api/session', wrong)).status).to.equal(401)
    for (let i = 0; i < 600 && !log.includes('not let in'); i++) await new Promise(r => setTimeout(r, 50))
    expect(log)
      .to.match(/"code":"wrong_sign_in","name":"yy","address":"[^"]+".*not let in/)
      .and.not.include('a wrong one')
    const modes = (path: string): [string, number][] => {
      const s = statSync(path)
      const own: [string, number][] = [[path.slice(data.length), s.mode & 0o777]]
      return s.isDirectory() ? [...own, ...readdirSync(path).flatMap(n => modes(join(path, n)))] : own
    }
    const found = modes(data)
    expect(found.length).to.be.greaterThan(7)
    for (const [path, mode] of found) expect(mode & 0o077, `${path} ${mode.toString(8)}`).to.equal(0)
    child.kill('SIGTERM')
    await ended(child)
  })

  it('has one server; beside it nothing is put in place; it is let go of however the server ends', async () => {
    const { child, port } = await start(data)
    const c = await begin(port)
    const backup = (await c.ok<{ rows: { name: string }[] }>('POST', '/api/backups')).rows[0]!.name
    expect(await said(start(data))).to.match(/A server is running on .* already. Stop it first/)
    const restored = () =>
      spawnSync(process.execPath, [CLI, 'restore', join(data, 'backups', backup)], { encoding: 'utf8', env: env(data) })
    const refused = restored()
    expect([refused.status, /A server is running/.test(refused.stderr)]).to.deep.equal([2, true])
    expect((await c.call('GET', '/api/session')).status, 'the running one goes on').to.equal(200)
    child.kill('SIGKILL')
    await ended(child)
    expect(restored().status).to.equal(0)
    const again = await start(data)
    again.child.kill('SIGTERM')
    await ended(again.child)
  })

  it('is let go of by a server that was a part of another program, where that ends from one moment to the next', async () => {
    const whole = `
      const { fork } = require('node:child_process')
      fork(${JSON.stringify(MAIN)}, { execArgv: [] }).once('message', m => console.log('port ' + m.port))`
    const program = spawn(process.execPath, ['-e', whole], { env: env(data), stdio: ['ignore', 'pipe', 'inherit'] })
    await new Promise<void>(ok => program.stdout.on('data', (d: Buffer) => d.includes('port ') && ok()))
    expect(await said(start(data))).to.match(/A server is running/)
    program.kill('SIGKILL')
    let again: ChildProcess | undefined
    for (let n = 0; n < 100 && !again; n++) again = (await start(data).catch(() => undefined))?.child
    again!.kill('SIGTERM')
    await ended(again!)
  })

  it('whose database is damaged is told of at the start, with what to do; a later finding is told by health, and backups before it stay', async () => {
    const { child, port } = await start(data)
    await begin(port)
    child.kill('SIGTERM')
    await ended(child)
    const file = join(data, DATABASE)
    const whole = readFileSync(file)
    const backups = new Backups(data, { hours: 24, keep: 1 }, () => Date.now())
    const good = (await backups.take()).name
    await backups.examine()
    expect(backups.damage).to.equal(null)
    // A page in the midst of it is written over, as a dying disk does.
    const page = 4096
    const holed = Buffer.from(whole)
    for (let at = page * 3; at < holed.length; at += page * 2) holed.fill(0x5a, at, at + page)
    writeFileSync(file, holed)
    await backups.examine()
    expect(backups.damage).to.be.a('string')
    const failed = await backups.take().catch((e: Error) => e.message)
    expect(failed).to.match(/database is damaged.*those there are were kept/i)
    expect(backupsIn(data).map(b => b.name)).to.deep.equal([good])
    expect(
      readdirSync(join(data, 'backups')).filter(n => n.includes('.part')),
      'nothing half made',
    ).to.deep.equal([])
    writeFileSync(file, Buffer.concat([Buffer.from('no database at all'), whole.subarray(18)]))
    expect(await said(start(data))).to.match(/is damaged: .*Put the latest backup in place/)
    // And that is possible, although what is there cannot be read.
    const r = spawnSync(process.execPath, [CLI, 'restore', join(data, 'backups', good)], {
      encoding: 'utf8',
      env: env(data),
    })
    expect([r.status, r.stderr]).to.deep.equal([0, ''])
    truncateSync(file, whole.length)
    const back = await start(data)
    back.child.kill('SIGTERM')
    await ended(back.child)
    const app = compose(file)
    const running = await serve(app, 0, '127.0.0.1')
    const health = async () => (await (await fetch(`http://127.0.0.1:${running.port}/api/health`)).json()) as object
    expect(await health()).to.include({ ok: true, damaged: false })
    Object.assign(app.options, { backups })
    expect(await health()).to.include({ ok: false, damaged: true })
    Object.assign(app.options, { backups: undefined })
    await running.stop()
  })

  it('on a full disk keeps a photograph whole or not at all, and no half of a backup', async () => {
    // No file may grow beyond some two megabytes (a block of `ulimit -f` is 512 bytes here, elsewhere 1 024).
    const child = spawn('sh', ['-c', `trap '' XFSZ; ulimit -f 4096; exec "${process.execPath}" "${MAIN}"`], {
      stdio: ['ignore', 'ignore', 'pipe', 'ipc'],
      env: env(data),
    })
    const c = await begin(await listens(child))
    const photograph = large(6_000_000)
    const refused = await sendPicture(c, photograph)
    expect([refused.status, ((await refused.json()) as { code: string }).code]).to.deep.equal([507, 'disk_full'])
    expect(existsSync(join(data, 'pictures')) ? readdirSync(join(data, 'pictures')) : []).to.deep.equal([])
    expect((await sendPicture(c)).status, 'a small one has room').to.equal(201)
    child.kill('SIGTERM')
    await ended(child)
    const roomy = await start(data)
    const again = new Client(`http://127.0.0.1:${roomy.port}`)
    await again.ok('POST', '/api/session', { signIn: 'yy', password: 'correct horse' })
    expect((await sendPicture(again, photograph)).status).to.equal(201)
    const kept = readdirSync(join(data, 'pictures')).map(n => statSync(join(data, 'pictures', n)).size)
    expect(kept.sort((a, b) => a - b)).to.deep.equal([PNG.length, photograph.length])
    roomy.child.kill('SIGTERM')
    await ended(roomy.child)
    const target = join(data, 'elsewhere')
    const backup = spawnSync(
      'sh',
      ['-c', `trap '' XFSZ; ulimit -f 100; exec "${process.execPath}" "${CLI}" backup "${join(target, 'b.sqlite')}"`],
      {
        encoding: 'utf8',
        env: env(data),
      },
    )
    expect(backup.status, backup.stderr).to.not.equal(0)
    expect(readdirSync(target).filter(n => n !== 'pictures')).to.deep.equal([])
  })
})

describe('what strangers may send', () => {
  let w: World
  before(async () => {
    w = await world()
  })
  after(() => w.stop())
  const port = () => Number(new URL(w.c.base).port)
  /** Sends the head of a request and a little of its body, and gives what is answered to that; 0: as yet nothing. */
  const half = (
    head: string,
    { body = '{"a":"', waits = false } = {},
  ): Promise<{ status: number; close: () => void }> =>
    new Promise((ok, no) => {
      const s = connect(port(), '127.0.0.1', () => s.write(`${head}\r\nhost: 127.0.0.1:${port()}\r\n\r\n${body}`))
      s.once('error', no)
      s.once('data', d => ok({ status: Number(/^HTTP\/1.1 (\d+)/.exec(d.toString())![1]), close: () => s.destroy() }))
      // What waits for the rest is not answered: whoever asked goes on after a while.
      if (waits) setTimeout(() => ok({ status: 0, close: () => s.destroy() }), 400)
    })
  const json = 'content-type: application/json\r\ncontent-length: 900000'

  it('is answered before it is read: a second first run, a picture of nobody, and anything long', async () => {
    for (const [what, head, status] of [
      ['the first run, once there is an organisation', `POST /api/start HTTP/1.1\r\n${json}`, 409],
      ['a long sign-in', `POST /api/session HTTP/1.1\r\n${json}`, 413],
      ['a long slip of nobody', `PUT /api/slips/x HTTP/1.1\r\n${json}`, 413],
      ['a picture of nobody', 'POST /api/pictures HTTP/1.1\r\ncontent-type: image/png\r\ncontent-length: 8000000', 401],
    ] as const) {
      const r = await half(head)
      expect(r.status, what).to.equal(status)
      r.close()
    }
    // Who is signed in may send what is long.
    const waits = await half(`PUT /api/slips/x HTTP/1.1\r\ncookie: ${w.c.cookie}\r\n${json}`, { waits: true })
    expect(waits.status).to.equal(0)
    waits.close()
  })
  it('pictures come in few at a time; half-sent ones are let go of when their sender goes', async () => {
    const head = `POST /api/pictures HTTP/1.1\r\ncookie: ${w.c.cookie}\r\ncontent-type: image/png\r\ncontent-length: 8000000`
    const coming = await Promise.all(Array.from({ length: 6 }, () => half(head, { body: 'x', waits: true })))
    expect(coming.map(r => r.status)).to.deep.equal([0, 0, 0, 0, 0, 0])
    let refused = await sendPicture(w.c)
    // However long it takes until all six have begun.
    for (let i = 0; i < 600 && refused.status === 201; i++) refused = await sendPicture(w.c)
    expect([refused.status, ((await refused.json()) as { code: string }).code]).to.deep.equal([503, 'busy'])
    for (const r of coming) r.close()
    let status = 503
    for (let i = 0; i < 600 && status === 503; i++) {
      status = (await sendPicture(w.c)).status
      if (status === 503) await new Promise(r => setTimeout(r, 50))
    }
    expect(status).to.equal(201)
  })
  it('streams of one session and arrangements of one person are as many as anybody needs', async () => {
    const going = new AbortController()
    const streams: number[] = []
    for (let i = 0; i < 13; i++)
      streams.push(
        (await fetch(`${w.c.base}/api/events`, { headers: { cookie: w.c.cookie }, signal: going.signal })).status,
      )
    expect(streams).to.deep.equal([...Array<number>(12).fill(200), 429])
    const other = new Client(w.c.base)
    await other.ok('POST', '/api/session', { signIn: 'ines', password: 'correct horse' })
    const theirs = await fetch(`${w.c.base}/api/events`, { headers: { cookie: other.cookie }, signal: going.signal })
    expect(theirs.status, 'another session has its own').to.equal(200)
    going.abort()
    const name = (i: number) => `x${String.fromCharCode(97 + Math.floor(i / 26), 97 + (i % 26))}`
    const keep = (i: number, value = '1') => w.c.call('PUT', `/api/preferences/${name(i)}`, { value })
    for (let i = 0; i < 100; i++) expect((await keep(i)).status).to.equal(200)
    expect((await keep(100)).body.code).to.equal('too_many_preferences')
    expect((await keep(7, '2')).status, 'those there are may change').to.equal(200)
  })
  it('a proxy’s word counts where it is trusted alone', async () => {
    const from = async (proxies: string[]) => {
      const running = await serve(w.app, 0, '127.0.0.1', { proxies })
      const c = new Client(`http://127.0.0.1:${running.port}`)
      const r = await c.call(
        'POST',
        '/api/session',
        { signIn: 'ines', password: 'wrong' },
        { 'x-forwarded-for': '203.0.113.9', 'x-forwarded-proto': 'https' },
      )
      expect(r.status).to.equal(401)
      const [last] = (await w.c.get<{ rows: { address: string }[] }>('/api/audit?what=sign_in_refused')).rows
      const cookie = (
        await c.call(
          'POST',
          '/api/session',
          { signIn: 'ines', password: 'correct horse' },
          { 'x-forwarded-proto': 'https' },
        )
      ).headers.get('set-cookie')!
      running.server.closeAllConnections()
      running.server.close()
      return [last!.address, cookie.split('=')[0]]
    }
    expect(await from([])).to.deep.equal(['127.0.0.1', 'shelve'])
    expect(await from(['10.0.0.0/8'])).to.deep.equal(['127.0.0.1', 'shelve'])
    expect(await from(['127.0.0.0/8'])).to.deep.equal(['203.0.113.9', '__Host-shelve'])
  })
  it('a file that is not there is not found; any other address is the interface', async () => {
    const web = mkdtempSync(join(tmpdir(), 'shelve-web-'))
    mkdirSync(join(web, 'assets'))
    writeFileSync(join(web, 'index.html'), '<p>here</p>')
    const running = await serve(w.app, 0, '127.0.0.1', { web })
    const get = async (path: string) => {
      const r = await fetch(`http://127.0.0.1:${running.port}${path}`)
      return [r.status, r.headers.get('content-type')!.split(';')[0]]
    }
    expect(await get('/receive/9')).to.deep.equal([200, 'text/html'])
    for (const path of ['/assets/SlipView-old.js', '/gone.webmanifest', '/fonts/gone.woff2'])
      expect(await get(path), path).to.deep.equal([404, 'application/problem+json'])
    running.server.closeAllConnections()
    running.server.close()
    rmSync(web, { recursive: true })
  })
})
