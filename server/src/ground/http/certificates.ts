import { createPrivateKey, randomBytes, webcrypto, X509Certificate } from 'node:crypto'
import { existsSync, mkdirSync, readFileSync } from 'node:fs'
import { BlockList, isIP } from 'node:net'
import { hostname, networkInterfaces } from 'node:os'
import { join } from 'node:path'
import { putWhole } from '../files.ts'

/** What TLS needs, as PEM; with an authority of our own also its certificate, which a tablet has to trust once. */
export interface Certificates {
  readonly cert: string
  readonly key: string
  readonly authority: string | null
}

/** A certificate or key that cannot be used, in words for whoever starts the server. */
export class UnusableCertificate extends Error {}

const DAY = 86_400_000

const ALGORITHM = { name: 'ECDSA', namedCurve: 'P-256', hash: 'SHA-256' } as const

/** An authority is trusted by hand on each tablet, so it lasts; what browsers accept of a server's own certificate is 398 days (CA/Browser Forum, from memory). */
const AUTHORITY_DAYS = 3650

const SERVER_DAYS = 397

const RENEW_BEFORE = 30

export const TLS_FOLDER = 'tls'

/** Loaded only where a certificate is made: most starts make none. */
async function maker() {
  await import('reflect-metadata')
  const x509 = await import('@peculiar/x509')
  x509.cryptoProvider.set(webcrypto as unknown as Crypto)
  return x509
}

// A serial number is a positive integer: the first bit is 0, and the first byte is not.
const serialNumber = (): string => {
  const b = randomBytes(16)
  b[0] = (b[0]! & 0x7f) | 1
  return b.toString('hex')
}

const newKeys = () => webcrypto.subtle.generateKey(ALGORITHM, true, ['sign', 'verify']) as Promise<CryptoKeyPair>

const pemOf = async (key: CryptoKey): Promise<string> =>
  (await maker()).PemConverter.encode(await webcrypto.subtle.exportKey('pkcs8', key as never), 'PRIVATE KEY')

/** Addresses of no public network: RFC 1918, loopback, link-local; a house's own. */
const OWN_NETWORKS = ['10.0.0.0/8', '172.16.0.0/12', '192.168.0.0/16', '127.0.0.0/8', '169.254.0.0/16']

/**
 * What an authority may vouch for: the names it was made with and what is beneath them, names of a local network, and
 * addresses of no public one. Whoever steals its key can pretend to be nothing else to the tablets that trust it.
 */
async function constraintsFor(names: readonly string[]) {
  const { NameConstraints, GeneralSubtree, GeneralSubtrees, GeneralName } = await import('@peculiar/asn1-x509')
  const { AsnConvert } = await import('@peculiar/asn1-schema')
  const bases = [
    ...[...new Set(['local', 'localhost', ...names.filter(n => !isIP(n))])].map(dNSName => ({ dNSName })),
    ...[...OWN_NETWORKS, ...names.filter(n => isIP(n) === 4 && !within(OWN_NETWORKS, n)).map(n => `${n}/32`)].map(
      iPAddress => ({ iPAddress }),
    ),
  ]
  const permittedSubtrees = new GeneralSubtrees(bases.map(base => new GeneralSubtree({ base: new GeneralName(base) })))
  return AsnConvert.serialize(new NameConstraints({ permittedSubtrees }))
}

const within = (networks: readonly string[], address: string): boolean => {
  const list = new BlockList()
  for (const n of networks) list.addSubnet(n.split('/')[0]!, Number(n.split('/')[1]))
  return list.check(address)
}

/** Whether an authority may vouch for all of these names. */
async function mayVouch(cert: string, names: readonly string[]): Promise<boolean> {
  const x509 = await maker()
  const { NameConstraints } = await import('@peculiar/asn1-x509')
  const { AsnConvert } = await import('@peculiar/asn1-schema')
  const kept = new x509.X509Certificate(cert).getExtension(NAME_CONSTRAINTS)
  if (!kept) return false
  const bases = [...(AsnConvert.parse(kept.value, NameConstraints).permittedSubtrees ?? [])].map(s => s.base)
  const networks = bases.flatMap(b => b.iPAddress ?? [])
  const domains = bases.flatMap(b => b.dNSName ?? [])
  return names.every(n => (isIP(n) ? within(networks, n) : domains.some(d => n === d || n.endsWith(`.${d}`))))
}
const NAME_CONSTRAINTS = '2.5.29.30'

async function makeAuthority(names: readonly string[], now: number): Promise<{ cert: string; key: string }> {
  const x509 = await maker()
  const keys = await newKeys()
  const cert = await x509.X509CertificateGenerator.createSelfSigned({
    serialNumber: serialNumber(),
    name: `CN=Shelve on ${hostname().replace(/[^\w.-]/g, '')}, O=Shelve`,
    notBefore: new Date(now - DAY),
    notAfter: new Date(now + AUTHORITY_DAYS * DAY),
    signingAlgorithm: ALGORITHM,
    keys,
    extensions: [
      new x509.BasicConstraintsExtension(true, 0, true),
      new x509.KeyUsagesExtension(x509.KeyUsageFlags.keyCertSign | x509.KeyUsageFlags.cRLSign, true),
      await x509.SubjectKeyIdentifierExtension.create(keys.publicKey),
      new x509.Extension(NAME_CONSTRAINTS, true, await constraintsFor(names)),
    ],
  })
  return { cert: cert.toString('pem'), key: await pemOf(keys.privateKey) }
}

async function makeServer(
  authority: { cert: string; key: string },
  names: readonly string[],
  now: number,
): Promise<{ cert: string; key: string }> {
  const x509 = await maker()
  const issuer = new x509.X509Certificate(authority.cert)
  const signingKey = (await webcrypto.subtle.importKey(
    'pkcs8',
    x509.PemConverter.decode(authority.key)[0]!,
    ALGORITHM,
    false,
    ['sign'],
  )) as CryptoKey
  const keys = await newKeys()
  const cert = await x509.X509CertificateGenerator.create({
    serialNumber: serialNumber(),
    subject: `CN=${names[0]}`,
    issuer: issuer.subject,
    notBefore: new Date(now - DAY),
    notAfter: new Date(now + SERVER_DAYS * DAY),
    signingAlgorithm: ALGORITHM,
    publicKey: keys.publicKey,
    signingKey,
    extensions: [
      new x509.BasicConstraintsExtension(false, undefined, true),
      new x509.KeyUsagesExtension(x509.KeyUsageFlags.digitalSignature, true),
      new x509.ExtendedKeyUsageExtension([x509.ExtendedKeyUsage.serverAuth]),
      new x509.SubjectAlternativeNameExtension(
        names.map(value => ({ type: isIP(value) ? ('ip' as const) : ('dns' as const), value })),
      ),
      await x509.AuthorityKeyIdentifierExtension.create(issuer),
      await x509.SubjectKeyIdentifierExtension.create(keys.publicKey),
    ],
  })
  return { cert: cert.toString('pem'), key: await pemOf(keys.privateKey) }
}

/** The names and addresses by which this machine is found: its own, those of its networks, and what was given. */
export function namesOfMachine(given: readonly string[] = []): string[] {
  const own = hostname().toLowerCase()
  const addresses = Object.values(networkInterfaces())
    .flatMap(list => list ?? [])
    .filter(a => a.family === 'IPv4')
    .map(a => a.address)
  return [
    ...new Set([...given, own, ...(own.includes('.') ? [] : [`${own}.local`]), 'localhost', ...addresses, '127.0.0.1']),
  ]
}

/** The names that a certificate is good for. */
export const namesIn = (cert: string): string[] =>
  (new X509Certificate(cert).subjectAltName ?? '')
    .split(', ')
    .filter(Boolean)
    .map(n => n.replace(/^(DNS|IP Address):/, ''))

/** Writes a file so that it is there whole or not at all; a key is for the server's own eyes. */
const put = (file: string, text: string, secret: boolean): void => putWhole(file, text, secret ? 0o600 : 0o644)

/**
 * Certificates of our own: an authority that is made once and kept, and a server's certificate for all names of this
 * machine, made anew when it is about to end or a name was added. Tablets trust the authority, so renewing asks nothing
 * of them; only a name of another domain than it was made for needs another authority, which they must be shown anew.
 */
export async function ownCertificates(
  dataDirectory: string,
  names: readonly string[],
  now: number,
): Promise<Certificates> {
  const folder = join(dataDirectory, TLS_FOLDER)
  mkdirSync(folder, { recursive: true, mode: 0o700 })
  const file = (n: string) => join(folder, n)
  const read = (n: string) => (existsSync(file(n)) ? readFileSync(file(n), 'utf8') : undefined)
  let authority = { cert: read('authority.crt') ?? '', key: read('authority.key') ?? '' }
  if (
    !fits(authority) ||
    Date.parse(new X509Certificate(authority.cert).validTo) < now ||
    !(await mayVouch(authority.cert, names))
  ) {
    authority = await makeAuthority(names, now)
    put(file('authority.key'), authority.key, true)
    put(file('authority.crt'), authority.cert, false)
  }
  let server = { cert: read('server.crt') ?? '', key: read('server.key') ?? '' }
  const has = fits(server) ? namesIn(server.cert) : []
  const good =
    fits(server) &&
    new X509Certificate(server.cert).verify(new X509Certificate(authority.cert).publicKey) &&
    Date.parse(new X509Certificate(server.cert).validTo) - now > RENEW_BEFORE * DAY &&
    names.every(n => has.includes(n))
  if (!good) {
    server = await makeServer(authority, names, now)
    put(file('server.key'), server.key, true)
    put(file('server.crt'), server.cert, false)
  }
  return { ...server, authority: authority.cert }
}

function fits(pair: { cert: string; key: string }): boolean {
  try {
    return new X509Certificate(pair.cert).checkPrivateKey(createPrivateKey(pair.key))
  } catch {
    return false
  }
}

/** A certificate that somebody else made; refused, with the reason, where it cannot be used. */
export function givenCertificates(certFile: string, keyFile: string, now: number): Certificates {
  const read = (what: string, file: string) => {
    try {
      return readFileSync(file, 'utf8')
    } catch (e) {
      throw new UnusableCertificate(`The ${what} ${file} cannot be read (${(e as NodeJS.ErrnoException).code}).`)
    }
  }
  const [cert, key] = [read('certificate', certFile), read('key', keyFile)]
  let parsed: X509Certificate
  try {
    parsed = new X509Certificate(cert)
  } catch {
    throw new UnusableCertificate(
      `${certFile} is no certificate. It must be PEM, beginning with -----BEGIN CERTIFICATE-----.`,
    )
  }
  let own
  try {
    own = createPrivateKey(key)
  } catch {
    throw new UnusableCertificate(`${keyFile} is no private key that can be read without a password. It must be PEM.`)
  }
  if (!parsed.checkPrivateKey(own))
    throw new UnusableCertificate(`The key ${keyFile} does not belong to the certificate ${certFile}.`)
  if (Date.parse(parsed.validTo) < now)
    throw new UnusableCertificate(`The certificate ${certFile} ended on ${parsed.validTo}.`)
  if (Date.parse(parsed.validFrom) > now)
    throw new UnusableCertificate(
      `The certificate ${certFile} is valid only from ${parsed.validFrom}. Is this machine’s clock right?`,
    )
  return { cert, key, authority: null }
}

/** By what a person recognises a certificate: its SHA-256 fingerprint, and its last day. */
export const toRecognise = (cert: string): { fingerprint: string; until: string } => {
  const c = new X509Certificate(cert)
  return { fingerprint: c.fingerprint256, until: new Date(c.validTo).toISOString().slice(0, 10) }
}

export const asDer = (cert: string): Buffer => new X509Certificate(cert).raw
