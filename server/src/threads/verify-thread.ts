import { getPriority, setPriority } from 'node:os'
import { compose } from '../compose.ts'
import { LOOKING } from '../ground/index.ts'
import { checkDatabase, type Part, verifyChain, verifyFigures } from '../ledger/index.ts'

/** So much behind whoever works with the server (steps of `nice`). */
const BEHIND = 10

/** One part of a verification, in a process of its own. */
const [file, part] = process.argv.slice(2) as [string, Part]
setPriority(Math.max(getPriority(), BEHIND))
const house = compose(file, { reads: LOOKING })
const found = { file: checkDatabase, chain: verifyChain, figures: verifyFigures }[part](house)
house.close()
// Where nobody listens any more it just ends.
process.send?.(found, () => process.disconnect())
