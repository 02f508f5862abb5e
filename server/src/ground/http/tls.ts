import type { Server } from 'node:https'
import type { Certificates } from './certificates.ts'

/** How this server is reached securely. `plainPort`: where a tablet is shown how to trust it; null where it need not be. */
export interface TlsOptions {
  readonly certificates: Certificates
  readonly kind: 'own' | 'given'
  readonly names: readonly string[]
  readonly plainPort: number | null
  /** Those that are served with from now on. Asked every `renewEvery` (ms), by itself once a day. */
  readonly renew?: () => Promise<Certificates>
  readonly renewEvery?: number
}

/**
 * Only suites that also prove that nothing was changed on the way (AEAD: RFC 5116, RFC 9325 4.2), under TLS 1.2 with a new
 * key for each connection.
 */
export const SECURE = {
  minVersion: 'TLSv1.2',
  honorCipherOrder: true,
  ciphers: [
    'TLS_AES_256_GCM_SHA384',
    'TLS_CHACHA20_POLY1305_SHA256',
    'TLS_AES_128_GCM_SHA256',
    'ECDHE-ECDSA-AES128-GCM-SHA256',
    'ECDHE-RSA-AES128-GCM-SHA256',
    'ECDHE-ECDSA-AES256-GCM-SHA384',
    'ECDHE-RSA-AES256-GCM-SHA384',
    'ECDHE-ECDSA-CHACHA20-POLY1305',
    'ECDHE-RSA-CHACHA20-POLY1305',
  ].join(':'),
} as const

const DAY = 86_400_000
/**
 * A server that runs for years renews its certificate by itself; where it cannot, `told` hears why, and it goes on with the
 * one it has.
 */
export function keepRenewed(server: Server, tls: TlsOptions, told: (why: string) => void): void {
  const { renew, renewEvery = DAY } = tls
  if (!renew) return
  const timer = setInterval(() => {
    renew()
      .then(({ cert, key }) => server.setSecureContext({ ...SECURE, cert, key }))
      .catch((e: Error) => told(e.message))
  }, renewEvery)
  timer.unref()
  server.once('close', () => clearInterval(timer))
}
