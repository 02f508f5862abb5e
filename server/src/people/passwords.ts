import { hash } from '@node-rs/argon2'

/** Argon2id with the parameters OWASP names as a minimum (19 MiB, 2 passes), from memory. */
const ARGON = { memoryCost: 19_456, timeCost: 2, parallelism: 1 }

export const hashPassword = (password: string): Promise<string> => hash(password, ARGON)
