import { expect } from 'chai'
import fc from 'fast-check'
import { Queue } from '@shelve/core'

interface Run {
  readonly name: number
  readonly at: readonly number[]
  next: number
}

/** All that several runs hold, each in its order, by what comes first of all: as `replay` goes through the facts of pools. */
function merged(runs: readonly (readonly number[])[], late: readonly (readonly number[])[]): [number, number][] {
  const queue = new Queue<Run>((a, b) => a.at[a.next]! - b.at[b.next]!)
  const add = (at: readonly number[], name: number) => at.length && queue.add({ name, at, next: 0 })
  runs.forEach(add)
  const out: [number, number][] = []
  for (let run = queue.first(); run; run = queue.first()) {
    out.push([run.at[run.next++]!, run.name])
    if (run.next < run.at.length) queue.again()
    else expect(queue.take()).to.equal(run)
    // Another joins while it goes on.
    const more = late[out.length - 1]
    if (more) add(more, runs.length + out.length)
  }
  expect(queue.take()).to.equal(undefined)
  return out
}
const sorted = fc.array(fc.integer({ min: 0, max: 20 }), { maxLength: 12 }).map(a => a.toSorted((x, y) => x - y))

describe('the queue that gives what comes first', () => {
  it('gives all of many runs in order; of equals the run that came earlier, to its end', () => {
    fc.assert(
      fc.property(fc.array(sorted, { maxLength: 30 }), runs => {
        const all = runs.flatMap((r, name) => r.map(x => [x, name] as [number, number]))
        expect(merged(runs, [])).to.deep.equal(all.toSorted((a, b) => a[0] - b[0] || a[1] - b[1]))
      }),
    )
  })
  it('whoever joins later loses nothing, and is never before what is smaller', () => {
    fc.assert(
      fc.property(
        fc.array(sorted, { minLength: 1, maxLength: 8 }),
        fc.array(sorted, { maxLength: 5 }),
        (runs, late) => {
          const out = merged(runs, late)
          const joined = late.slice(0, out.length)
          expect(out.map(o => o[0]).toSorted((a, b) => a - b)).to.deep.equal(
            [...runs, ...joined].flat().toSorted((a, b) => a - b),
          )
          for (const name of new Set(out.map(o => o[1]))) {
            const own = out.filter(o => o[1] === name).map(o => o[0])
            expect(own).to.deep.equal(own.toSorted((a, b) => a - b))
          }
        },
      ),
    )
  })
})
