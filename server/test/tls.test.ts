import { spawnSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { createServer, request } from 'node:https'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { connect } from 'node:tls'
import { webcrypto, X509Certificate } from 'node:crypto'
import { expect } from 'chai'
import { compose, DATABASE, serve } from '@shelve/server'
import { givenCertificates, namesIn, ownCertificates } from '../src/ground/http/certificates.ts'
import { MAIN } from './shipped.ts'

const NOW = Date.now()
const DAY = 86_400_000
describe('tablets in the local network: TLS with an authority of our own, or a certificate that is given', () => {
  const directory = mkdtempSync(join(tmpdir(), 'shelve-tls-'))
  after(() => rmSync(directory, { recursive: true, force: true }))
  /** Asks by name, trusting one authority and nobody else. */
  const ask = (
    port: number,
    name: string,
    path: string,
    ca: string | undefined,
    more: { method?: string; body?: string; cookie?: string } = {},
  ) =>
    new Promise<{ status: number; text: string; headers: NodeJS.Dict<string | string[]> }>((ok, no) => {
      const r = request(
        {
          host: '127.0.0.1',
          port,
          path,
          servername: name,
          method: more.method ?? 'GET',
          headers: {
            host: `${name}:${port}`,
            ...(more.cookie ? { cookie: more.cookie } : {}),
            ...(more.body ? { 'content-type': 'application/json', origin: `https://${name}:${port}` } : {}),
          },
          ...(ca ? { ca } : {}),
        },
        s => {
          let text = ''
          s.on('data', (d: Buffer) => {
            text += d.toString()
          })
          s.on('end', () => ok({ status: s.statusCode!, text, headers: s.headers }))
        },
      )
      r.on('error', no)
      r.end(more.body)
    })

  it('the authority stays, the server’s certificate is renewed before it ends and when a name is added; keys are for the server’s eyes', async () => {
    const first = await ownCertificates(directory, ['shelve.test', '192.168.7.4'], NOW)
    expect(namesIn(first.cert)).to.have.members(['shelve.test', '192.168.7.4'])
    expect((await ownCertificates(directory, ['shelve.test'], NOW)).cert, 'nothing new to say').to.equal(first.cert)
    const named = await ownCertificates(directory, ['shelve.test', 'stores.local'], NOW)
    expect([named.authority === first.authority, named.cert === first.cert]).to.deep.equal([true, false])
    const elsewhere = await ownCertificates(directory, ['shelve.test', 'shelve.example'], NOW)
    expect(elsewhere.authority === first.authority, 'a domain that it may not vouch for').to.equal(false)
    const public_ = await ownCertificates(directory, ['shelve.test', 'shelve.example', '203.0.113.9'], NOW)
    expect(public_.authority === elsewhere.authority, 'nor a public address').to.equal(false)
    const later = await ownCertificates(directory, ['shelve.test'], NOW + 370 * DAY)
    expect([later.authority === public_.authority, later.cert === public_.cert]).to.deep.equal([true, false])
    for (const key of ['authority.key', 'server.key'])
      expect(statSync(join(directory, 'tls', key)).mode & 0o777).to.equal(0o600)
    writeFileSync(join(directory, 'tls', 'server.key'), 'damaged')
    const mended = await ownCertificates(directory, ['shelve.test'], NOW)
    expect(new X509Certificate(mended.cert).verify(new X509Certificate(mended.authority!).publicKey)).to.equal(true)
  })

  it('what is renewed is served with from then on; where it cannot be renewed that is told, and the one before goes on', async () => {
    const first = await ownCertificates(directory, ['shelve.test'], NOW)
    const later = await ownCertificates(directory, ['shelve.test', 'stores.local'], NOW)
    const told: string[] = []
    /** What is renewed, one time after the other. */
    const outcomes = [
      () => Promise.reject(new Error('The key cannot be read.')),
      async () => ({ ...first, key: later.key }),
      async () => ({ ...first, cert: 'damaged' }),
      async () => later,
    ]
    let rounds = 0
    const tls = { kind: 'own' as const, certificates: first, names: ['shelve.test'], plainPort: null, renewEvery: 3 }
    const app = compose(join(directory, 'renewed.sqlite'))
    const running = await serve(app, 0, '127.0.0.1', {
      tls: { ...tls, renew: () => outcomes[Math.min(rounds++, 3)]!() },
      log: { isLevelEnabled: () => false, warn: (d: { error: string }) => told.push(d.error) } as never,
    })
    const shown = () =>
      new Promise<string>((ok, no) => {
        const s = connect({ port: running.port, host: '127.0.0.1', servername: 'shelve.test', ca: first.authority! })
        s.once('secureConnect', () => {
          ok(s.getPeerX509Certificate()!.fingerprint256)
          s.end()
        }).once('error', no)
      })
    const of = (cert: string) => new X509Certificate(cert).fingerprint256
    while ((await shown()) !== of(later.cert)) expect(told.length).to.be.lessThan(4)
    expect(told).to.have.length(3)
    expect(told[0]).to.equal('The key cannot be read.')
    expect(told[1]).to.match(/key values mismatch/i)
    await running.stop()
  })

  it('whoever steals the authority’s key can pretend to be nothing but a house like this one', async () => {
    await import('reflect-metadata')
    const x509 = await import('@peculiar/x509')
    const ours = await ownCertificates(directory, ['shelve.test'], NOW)
    const algorithm = { name: 'ECDSA', namedCurve: 'P-256', hash: 'SHA-256' } as const
    const stolen = readFileSync(join(directory, 'tls', 'authority.key'), 'utf8')
    const signingKey = await webcrypto.subtle.importKey(
      'pkcs8',
      x509.PemConverter.decode(stolen)[0]!,
      algorithm,
      false,
      ['sign'],
    )
    const reached = async (name: string) => {
      const keys = await webcrypto.subtle.generateKey(algorithm, true, ['sign', 'verify'])
      const cert = await x509.X509CertificateGenerator.create({
        subject: `CN=${name}`,
        issuer: new x509.X509Certificate(ours.authority!).subject,
        notBefore: new Date(NOW - DAY),
        notAfter: new Date(NOW + DAY),
        signingAlgorithm: algorithm,
        publicKey: keys.publicKey,
        signingKey: signingKey as never,
        extensions: [new x509.SubjectAlternativeNameExtension([{ type: 'dns', value: name }])],
      })
      const key = x509.PemConverter.encode(await webcrypto.subtle.exportKey('pkcs8', keys.privateKey), 'PRIVATE KEY')
      const server = createServer({ cert: cert.toString('pem'), key }, (_q, s) => s.end('hello'))
      await new Promise<void>(done => server.listen(0, '127.0.0.1', done))
      const { port } = server.address() as { port: number }
      const said = await ask(port, name, '/', ours.authority!).then(
        r => r.text,
        (e: Error) => e.message,
      )
      server.closeAllConnections()
      server.close()
      return said
    }
    expect(await reached('bank.example')).to.match(/permitted subtree violation/)
    expect(await reached('stores.shelve.test')).to.equal('hello')
  })

  it('whoever trusts the authority reaches the server by each name, cookies are for TLS alone; whoever does not is warned; the plain door hands out the certificate and nothing of the stock', async () => {
    const certificates = await ownCertificates(directory, ['shelve.test', 'localhost', '127.0.0.1'], NOW)
    const app = compose(join(directory, DATABASE))
    const running = await serve(app, 0, '127.0.0.1', {
      tls: { certificates, kind: 'own', names: ['shelve.test'], plainPort: 0 },
    })
    const ca = certificates.authority!
    expect(JSON.parse((await ask(running.port, 'shelve.test', '/api/health', ca)).text)).to.include({ ok: true })
    const begun = await ask(running.port, 'shelve.test', '/api/start', ca, {
      method: 'POST',
      body: JSON.stringify({
        organisation: { name: 'Test <b>', zone: 'Europe/Paris', currency: 'EUR', decimalMark: '.', dateOrder: 'dmy' },
        manager: { name: 'Ines', signIn: 'ines', password: 'correct horse' },
        area: 'Lab',
      }),
    })
    expect([
      begun.status,
      /^__Host-shelve=[^;]+; Path=\/; HttpOnly; SameSite=Strict; Max-Age=\d+; Secure$/.test(
        String(begun.headers['set-cookie']),
      ),
      begun.headers['strict-transport-security'],
    ]).to.deep.equal([201, true, undefined])
    expect(
      await ask(running.port, 'shelve.test', '/api/health', undefined).then(
        () => 'trusted',
        (e: NodeJS.ErrnoException) => e.code,
      ),
    ).to.match(/UNABLE_TO_VERIFY|SELF_SIGNED/)
    // A cookie that bears the plain name is nobody's over TLS: another site of this name could have set it.
    const cookie = String(begun.headers['set-cookie']).split(';')[0]!
    const as = (c: string) => ask(running.port, 'shelve.test', '/api/session', ca, { cookie: c })
    expect([(await as(cookie)).status, (await as(cookie.replace('__Host-', ''))).status]).to.deep.equal([200, 401])
    const suite = (ciphers: string) =>
      new Promise<string>(ok => {
        const s = connect({
          port: running.port,
          host: '127.0.0.1',
          servername: 'shelve.test',
          ca,
          ciphers,
          maxVersion: 'TLSv1.2',
        })
        s.once('secureConnect', () => {
          ok(s.getCipher().name)
          s.destroy()
        })
        s.once('error', () => ok('refused'))
      })
    expect(await suite('ECDHE-ECDSA-AES128-SHA:ECDHE-ECDSA-AES256-SHA384')).to.equal('refused')
    expect(await suite('ECDHE-ECDSA-AES128-GCM-SHA256')).to.equal('ECDHE-ECDSA-AES128-GCM-SHA256')
    expect(
      await ask(running.port, 'other.test', '/api/health', ca).then(
        () => 'trusted',
        (e: NodeJS.ErrnoException) => e.code,
      ),
    ).to.equal('ERR_TLS_CERT_ALTNAME_INVALID')
    const door = `http://127.0.0.1:${running.plainPort}`
    const handed = await fetch(`${door}/authority.crt`)
    expect(handed.headers.get('content-type')).to.equal('application/x-x509-ca-cert')
    expect(new X509Certificate(Buffer.from(await handed.arrayBuffer())).fingerprint256).to.equal(
      new X509Certificate(ca).fingerprint256,
    )
    const page = await (await fetch(`${door}/`)).text()
    expect(page)
      .to.include(new X509Certificate(ca).fingerprint256)
      .and.include('Test &#60;b&#62;')
      .and.include(`https://127.0.0.1:${running.port}/`)
    const led = await fetch(`${door}/api/stock`, { redirect: 'manual' })
    expect([led.status, led.headers.get('location')]).to.deep.equal([
      307,
      `https://127.0.0.1:${running.port}/api/stock`,
    ])
    await running.stop()
  })

  it('a certificate that does not fit is refused in words: another key, no certificate, one that ended, none at all', async () => {
    const at = (name: string, text: string) => {
      const file = join(directory, name)
      writeFileSync(file, text)
      return file
    }
    const a = await ownCertificates(directory, ['shelve.test'], NOW)
    const other = await ownCertificates(mkdtempSync(join(directory, 'o-')), ['shelve.test'], NOW)
    const [cert, key] = [at('a.crt', a.cert), at('a.key', a.key)]
    expect(givenCertificates(cert, key, NOW)).to.include({ cert: readFileSync(cert, 'utf8'), authority: null })
    const why = (c: string, k: string, now = NOW) => {
      try {
        givenCertificates(c, k, now)
        return 'taken'
      } catch (e) {
        return (e as Error).message
      }
    }
    expect(why(cert, at('b.key', other.key))).to.match(/b\.key does not belong to the certificate/)
    expect(why(at('c.crt', 'hello'), key)).to.match(/is no certificate\. It must be PEM/)
    expect(why(cert, at('c.key', 'hello'))).to.match(/no private key/)
    expect(why(cert, key, NOW + 400 * DAY)).to.match(/ended on/)
    expect(why(cert, key, NOW - 10 * DAY)).to.match(/valid only from.*clock/)
    expect(why(join(directory, 'none.crt'), key)).to.match(/cannot be read \(ENOENT\)/)
    // So the server says, and does not start.
    const started = spawnSync(process.execPath, [MAIN], {
      encoding: 'utf8',
      env: {
        ...process.env,
        SHELVE_DATA: join(directory, 'own'),
        SHELVE_PORT: '0',
        SHELVE_TLS: 'given',
        SHELVE_TLS_CERTIFICATE: cert,
        SHELVE_TLS_KEY: at('d.key', other.key),
      },
    })
    expect([started.status, started.stderr]).to.deep.equal([
      2,
      `The key ${join(directory, 'd.key')} does not belong to the certificate ${cert}.\n`,
    ])
  })
})
