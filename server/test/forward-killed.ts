/** For forward.test: brings a database forward and kills itself at a moment. Arguments: directory, folder of the steps, moment. */
import { compose } from '@shelve/server'
import { bringForward } from '../src/ground/db/forward.ts'
import { verifyLedger } from '../src/ledger/verify.ts'

const [directory, steps, moment] = process.argv.slice(2) as [string, string, string]
await bringForward(
  directory,
  Date.UTC(2026, 10, 25, 9),
  async file => {
    const app = compose(file, { steps })
    const { faults } = verifyLedger(app)
    app.close()
    return { faults }
  },
  {
    steps,
    at: m => {
      if (m === moment) process.kill(process.pid, 'SIGKILL')
    },
  },
)
