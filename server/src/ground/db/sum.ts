import { createHash } from 'node:crypto'
import { createReadStream } from 'node:fs'

/** The SHA-256 of a file, read piece by piece, so that others are answered meanwhile. */
export const sum = (file: string): Promise<string> =>
  new Promise((ok, no) => {
    const hash = createHash('sha256')
    createReadStream(file)
      .on('data', d => hash.update(d))
      .on('end', () => ok(hash.digest('hex')))
      .on('error', no)
  })
