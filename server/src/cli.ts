import { closeSync, existsSync, openSync, writeSync } from 'node:fs'
import { join, resolve } from 'node:path'
import Database from 'better-sqlite3'
import { compose, type House } from './compose.ts'
import { backup, DATABASE, FIRST_SCHEMA, restore, schemaOf, UnusableDatabase, LOOKING } from './ground/index.ts'
import { ledgerCsv, ledgerJournal, ledgerJsonLines, verifyApart } from './ledger/index.ts'

const USAGE = `shelve verify                    works everything out anew and says what does not agree
shelve backup FILE               an online copy, with its checksum beside it
shelve restore FILE              puts a backup in the place of the database (stop the server first)
shelve export csv|jsonl|journal FILE   the whole ledger in an open format

The data directory is SHELVE_DATA, or ./data.`
// What is written here is for the eyes of whoever runs it.
process.umask(0o077)
const here = process.env.SHELVE_HERE ?? process.cwd()
const data = resolve(here, process.env.SHELVE_DATA ?? './data')
const [command, ...rest] = process.argv.slice(2)
const stop = (message: string, code = 2): never => {
  console.error(message)
  process.exit(code)
}
const file = (n: number): string => (rest[n] ? resolve(here, rest[n]) : stop(USAGE))

/** The database that is there; none is made by asking about it. */
function open(): House {
  if (!existsSync(join(data, DATABASE))) stop(`There is no database in ${data}. Set SHELVE_DATA to the data directory.`)
  const client = new Database(join(data, DATABASE), { readonly: true })
  const { has, known } = schemaOf(client)
  client.close()
  // The command looks at a database and never changes its form: that is for the server, which keeps a copy.
  if (has >= FIRST_SCHEMA && has < known)
    stop(
      'This database was written by an older version. Start the server once: it keeps a copy and brings it up to this one.',
    )
  return compose(join(data, DATABASE), { reads: LOOKING })
}

async function main(): Promise<void> {
  switch (command) {
    case 'verify': {
      const began = Date.now()
      // Opening it first says in plain words where it cannot be used.
      open().close()
      const v = await verifyApart(join(data, DATABASE))
      for (const f of v.faults) console.log(`${f.check}: ${f.where}: kept ${f.kept}, right ${f.right}`)
      console.log(
        `${v.movements} movements in ${((Date.now() - began) / 1000).toFixed(1)} s, the ledger in ${(v.ms.ledger / 1000).toFixed(1)} s: ${v.ok ? 'everything agrees' : `${v.faults.length} faults`}`,
      )
      console.log(`head hash ${v.headHash}`)
      process.exitCode = v.ok ? 0 : 1
      return
    }
    case 'backup':
      console.log(`${await backup(data, file(0))} and its checksum are written`)
      return
    case 'restore': {
      const { kept, missingPictures } = await restore(data, file(0), Date.now())
      if (missingPictures)
        console.error(
          `${missingPictures} picture${missingPictures === 1 ? '' : 's'} of it could not be found beside the backup; the slips say where one is missing.`,
        )
      console.log(`${file(0)} is in place${kept ? `; what was there is kept as ${kept}` : ''}`)
      return
    }
    case 'export': {
      const of = { csv: ledgerCsv, jsonl: ledgerJsonLines, journal: ledgerJournal }[rest[0] ?? '']
      if (!of) stop(USAGE)
      const app = open()
      const out = openSync(file(1), 'w')
      for (const chunk of of!(app)) writeSync(out, chunk)
      closeSync(out)
      app.close()
      return
    }
    default:
      stop(USAGE)
  }
}
main().catch((e: unknown) => {
  if (e instanceof UnusableDatabase) stop(e.message)
  const code = (e as NodeJS.ErrnoException).code
  if (code) stop(`${(e as Error).message}`)
  throw e
})
