import { hash } from 'node:crypto'

export const VERSION = '0.1.0'
export const sha256 = (text: string): string => hash('sha256', text, 'hex')
/** An instant (ms) as it goes over the wire, by RFC 3339 in UTC. */
export const iso = (at: number): string => new Date(at).toISOString()
