import type { Certificates } from './certificates.ts'

/** How this server is reached securely. `plainPort`: where a tablet is shown how to trust it; null where it need not be. */
export interface TlsOptions {
  readonly certificates: Certificates
  readonly kind: 'own' | 'given'
  readonly names: readonly string[]
  readonly plainPort: number | null
  readonly renew?: () => Promise<Certificates>
}
