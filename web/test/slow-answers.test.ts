import { expect } from 'chai'
import { askedOnce, newest, oneAtATime } from '../src/shell/asked-once.ts'
import { allStands, scanUnderWay, typedStands, typedUnderWay } from '../src/shell/under-way.ts'

/** An answer that comes when somebody lets it. */
function later() {
  let come!: () => void
  let fail!: (e: Error) => void
  const answer = new Promise<void>((ok, no) => ([come, fail] = [ok, no]))
  return { answer, come, fail }
}
const soon = () => new Promise(setImmediate)

describe('answers that come late', () => {
  it('what is asked for again while it is asked is asked once more, after it: the last answer is the newest', async () => {
    const asked: ReturnType<typeof later>[] = []
    let shown = 0
    const run = oneAtATime(async () => {
      const mine = later()
      const n = asked.push(mine)
      await mine.answer
      shown = n
    })
    const all = [run(), run(), run()]
    expect(asked.length, 'one at a time').to.equal(1)
    asked[0]!.come()
    await soon()
    expect([asked.length, shown]).to.deep.equal([2, 1])
    asked[1]!.come()
    await Promise.all(all)
    expect([asked.length, shown], 'two that waited are one').to.deep.equal([2, 2])
    const again = run()
    asked[2]!.fail(new Error('away'))
    await again.then(
      () => expect.fail('it did not come'),
      (e: Error) => expect(e.message).to.equal('away'),
    )
    // One that fails does not stop the one that was asked for meanwhile.
    const first = run()
    void run()
    asked[3]!.fail(new Error('away'))
    await soon()
    asked[4]!.come()
    await first
    expect(shown).to.equal(5)
  })
  it('a list that is forgotten while it is on its way is the one after that', async () => {
    const asked: ReturnType<typeof later>[] = []
    const list = askedOnce(() => {
      const mine = later()
      asked.push(mine)
      return mine.answer
    })
    const first = list.need()
    list.forget()
    let there = false
    const second = list.need().then(() => (there = true))
    asked[0]!.come()
    await soon()
    expect([asked.length, there]).to.deep.equal([2, false])
    asked[1]!.come()
    await Promise.all([first, second])
    await list.need()
    expect(asked.length, 'asked once').to.equal(2)
  })
  it('of two questions only the later one’s answer is wanted', () => {
    const asks = newest()
    const [first, second] = [asks(), asks()]
    expect([first(), second()]).to.deep.equal([false, true])
    asks()
    expect(second()).to.equal(false)
  })
  it('all that was scanned and typed stands before the main button does its work, also what begins meanwhile', async () => {
    const [scan, words, next] = [later(), later(), later()]
    let stands = false
    let typed = false
    void scanUnderWay(scan.answer).catch(() => undefined)
    void typedUnderWay(words.answer)
    const all = allStands().then(() => (stands = true))
    // A printed card is a scan itself: it waits for what is typed alone.
    const card = typedStands().then(() => (typed = true))
    words.come()
    await card
    void scanUnderWay(next.answer)
    // One whose answer never came is over too.
    scan.fail(new Error('away'))
    await soon()
    expect([typed, stands]).to.deep.equal([true, false])
    next.come()
    await all
    expect(stands).to.equal(true)
    await allStands()
  })
})
