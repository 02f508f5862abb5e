import { expect } from 'chai'
import { effectScope, nextTick, ref } from 'vue'
import { watchPaper } from '../src/papers/each-line.ts'

describe('a paper is followed line by line', () => {
  const paper = () =>
    ref({
      head: { why: { note: '' } },
      lines: [
        { id: 'a', lot: { code: 'A' } },
        { id: 'b', lot: null },
      ],
    })
  it('whatever changes is told once; what is taken off is nobody’s news any more', async () => {
    const p = paper()
    let told = 0
    watchPaper(
      () => p.value.lines,
      () => p.value.head,
      () => told++,
    )
    const news = async (what: string, change: () => void, n = 1) => {
      told = 0
      change()
      await nextTick()
      expect(told, what).to.equal(n)
    }
    await news('nothing', () => undefined, 0)
    await news('deep in a line', () => (p.value.lines[0]!.lot!.code = 'B'))
    await news('the same again', () => (p.value.lines[0]!.lot!.code = 'B'), 0)
    await news('deep in the head', () => (p.value.head.why.note = 'late'))
    await news('a line more, and what is typed on it at once', () => {
      p.value.lines.push({ id: 'c', lot: null })
      p.value.lines[2]!.id = 'd'
    })
    await news('on it later', () => (p.value.lines[2]!.lot = { code: 'C' }))
    await news('two lines change places', () => p.value.lines.reverse())
    await news('all of them at once', () => p.value.lines.forEach(l => (l.id += '!')))
    const gone = p.value.lines[1]!
    await news('one is taken off', () => p.value.lines.splice(1, 1))
    await news('what is off', () => (gone.id = 'elsewhere'), 0)
    const old = p.value.lines[0]!
    await news('another paper', () => (p.value = { head: { why: { note: '' } }, lines: [{ id: 'x', lot: null }] }))
    await news('of the one before', () => (old.id = 'y'), 0)
    await news('of this one', () => (p.value.lines[0]!.id = 'z'))
  })
  it('a line that comes while a screen begins stays when that screen is left; whoever follows goes with their own', async () => {
    const p = paper()
    let told = 0
    const own = effectScope()
    own.run(() =>
      watchPaper(
        () => p.value.lines,
        () => p.value.head,
        () => told++,
      ),
    )
    const screen = effectScope()
    screen.run(() => p.value.lines.push({ id: 'c', lot: null }))
    screen.stop()
    await nextTick()
    told = 0
    p.value.lines[2]!.id = 'd'
    await nextTick()
    expect(told).to.equal(1)
    own.stop()
    p.value.lines[2]!.id = 'e'
    await nextTick()
    expect(told).to.equal(1)
  })
})
