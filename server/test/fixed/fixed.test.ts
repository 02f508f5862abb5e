import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { expect } from 'chai'
import { ledgerJsonLines, verify } from '@shelve/server'
import { world } from '../client.ts'
import { History } from './history.ts'

/**
 * What must not change while the house is rebuilt: histories that were written down, with every answer, every movement
 * and what lies where in the end. Where a rule is mended and a figure changes by it, the file is written anew
 * (`FIXED=anew`), and the commit that does so names each difference and the rule.
 */
describe('fixed histories: the same slips give the same facts, balances and values as when they were written down', () => {
  for (const [seed, steps] of [
    [7, 260],
    [20261126, 260],
  ] as const)
    it(`history ${seed}: ${steps} steps`, async () => {
      const w = await world()
      try {
        const history = new History(w, seed)
        await history.begin()
        await history.play(steps)
        const facts = [...ledgerJsonLines(w.app)].map(l => {
          const m = JSON.parse(l) as Record<string, string | number | null>
          const { seq, costSeq, slip, kind, item, lot, from, to, quantity, value, happened, takesBack, revalues } = m
          return [seq, costSeq, slip, kind, item, lot, from, to, quantity, value, happened, takesBack, revalues].join(
            '\t',
          )
        })
        const text = `${['# answers', ...history.told, '# facts', ...facts, '# stands', ...(await history.stands())].join('\n')}\n`
        expect(verify(w.app).faults).to.deep.equal([])
        const file = fileURLToPath(new URL(`./history-${seed}.txt`, import.meta.url))
        if (process.env.FIXED === 'anew') writeFileSync(file, text)
        expect(existsSync(file), `${file} is there`).to.equal(true)
        expect(text.split('\n')).to.deep.equal(readFileSync(file, 'utf8').split('\n'))
      } finally {
        await w.stop()
      }
    })
})
