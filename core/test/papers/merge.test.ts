import { expect } from 'chai'
import fc from 'fast-check'
import {
  alike,
  changesOf,
  fateOf,
  LINE_GAP,
  mergeHead,
  mergeLines,
  placesOf,
  type LineChange,
  type StoredLine,
  type ToldLine,
} from '@shelve/core'

interface Line {
  readonly id: string
  readonly typed: string
}
const same = (a: Line, b: Line) => a.typed === b.typed
const line = (id: string, typed: string): Line => ({ id, typed })

describe('what becomes of a change', () => {
  const stored = (typed: string | null, revision = 3, position = 5): StoredLine<Line> => ({
    revision,
    position,
    content: typed === null ? null : line('a', typed),
  })
  for (const [what, there, typed, seen, fate, position = 5] of [
    ['new, where nothing is', undefined, '1', 0, 'write'],
    ['new, sent once more', stored('1'), '1', 0, 'same'],
    ['new, sent once more, moved', stored('1'), '1', 0, 'write', 6],
    ['new, sent once more but typed on since', stored('1'), '2', 0, 'stale'],
    ['new, taken off by somebody since', stored(null), '1', 0, 'stale'],
    ['changed from what stands', stored('1'), '2', 3, 'write'],
    ['changed from what stood before', stored('1'), '2', 2, 'stale'],
    ['changed from a revision to come', stored('1'), '2', 4, 'stale'],
    ['changed to what stands', stored('2'), '2', 1, 'same'],
    ['changed, where there is none of it', undefined, '2', 3, 'stale'],
    ['put back where it was taken off, and that was seen', stored(null), '2', 3, 'write'],
    ['changed, though taken off since', stored(null), '2', 2, 'stale'],
    ['taken off as it stands', stored('1'), null, 3, 'write'],
    ['taken off, though changed since', stored('1'), null, 2, 'stale'],
    ['taken off twice', stored(null), null, 2, 'same'],
    ['taken off where it never was', undefined, null, 1, 'same'],
  ] as const)
    it(`${what}: ${fate}`, () => {
      const content = typed === null ? null : line('a', typed)
      expect(fateOf(there, { id: 'a', seen, position, content }, same)).to.equal(fate)
    })
})

describe('where a line stands', () => {
  const at = (p: Record<string, number>) => new Map(Object.entries(p).map(([k, position]) => [k, { position }]))
  for (const [ids, known, places] of [
    [['a', 'b'], {}, [LINE_GAP, 2 * LINE_GAP]],
    [['a', 'b', 'c'], { a: 100, c: 200 }, [100, 150, 200]],
    [['b', 'a'], { a: 100 }, [50, 100]],
    [['a', 'b'], { a: 100 }, [100, 100 + LINE_GAP]],
    // No room left: it shares the place of the one before, and follows by its younger id.
    [['a', 'b', 'c'], { a: 100, c: 101 }, [100, 100, 101]],
    // A place smaller than the one before is no line that follows.
    [['a', 'b', 'c'], { a: 100, c: 50 }, [100, 100 + LINE_GAP, 50]],
    [['a', 'b', 'c', 'd'], { a: 100, c: 100, d: 200 }, [100, 150, 100, 200]],
  ] as const)
    it(`${ids.join(' ')} with ${JSON.stringify(known)}`, () => {
      expect([...placesOf(ids, at(known)).values()]).to.deep.equal(places)
    })
})

describe('a head two people write on', () => {
  const base = { taker: '', head: { supplier: '', note: '' } }
  const flat = (taker: string, supplier: string) => ({ ...base, taker, supplier })
  it('takes each field from whoever changed it, and tells what both changed otherwise', () => {
    expect(mergeHead(flat('', ''), flat('Tova', ''), flat('', 'Aster'))).to.deep.equal({
      head: flat('Tova', 'Aster'),
      differing: [],
    })
    expect(mergeHead(flat('', 'A'), flat('', 'B'), flat('x', 'C'))).to.deep.equal({
      head: flat('x', 'B'),
      differing: [{ field: 'supplier', theirs: 'C' }],
    })
    expect(mergeHead(flat('', 'A'), flat('', 'B'), flat('', 'B')).differing, 'both the same').to.deep.equal([])
    expect(mergeHead(flat('', 'A'), flat('', 'B'), flat('', 'A')).head, 'theirs is as it was').to.deep.equal(
      flat('', 'B'),
    )
  })
  it('compares plain values', () => {
    for (const [a, b, is] of [
      [{ a: 1, b: [1, 2] }, { b: [1, 2], a: 1 }, true],
      [{ a: 1 }, { a: 1, b: undefined }, true],
      [[1, 2], [2, 1], false],
      [[1], [1, 2], false],
      [null, {}, false],
      [{}, null, false],
      [null, 'x', false],
      ['x', {}, false],
      [{}, 'x', false],
      [undefined, {}, false],
      [null, undefined, false],
      [[], {}, false],
      ['1', 1, false],
      [{ a: { b: 1 } }, { a: { b: 2 } }, false],
    ] as const)
      expect(alike(a, b), `${JSON.stringify(a)} ${JSON.stringify(b)}`).to.equal(is)
  })
})

/** A server that keeps one paper, and writers who each have a screen. */
class Paper {
  version = 1
  readonly lines = new Map<string, StoredLine<Line> & { by: string }>()
  /** What was written over, and whether its writer had been told of it. */
  save(by: string, changes: readonly LineChange<Line>[]): ToldLine<Line>[] {
    this.version++
    const stale: ToldLine<Line>[] = []
    for (const c of changes) {
      const there = this.lines.get(c.id)
      const fate = fateOf(there, c, same)
      if (fate === 'write')
        this.lines.set(c.id, { revision: this.version, position: c.position, content: c.content, by })
      if (fate === 'stale') stale.push({ id: c.id, ...there! })
    }
    return stale
  }
  since(version: number): ToldLine<Line>[] {
    return [...this.lines].filter(([, l]) => l.revision > version).map(([id, l]) => ({ id, ...l }))
  }
  text = () =>
    [...this.lines]
      .filter(([, l]) => l.content)
      .sort((a, b) => a[1].position - b[1].position || (a[0] < b[0] ? -1 : 1))
      .map(([id, l]) => `${id}=${l.content!.typed}`)
}
class Writer {
  base = new Map<string, StoredLine<Line>>()
  mine: Line[] = []
  differing = new Map<string, ToldLine<Line>>()
  seen = 0
  constructor(
    readonly name: string,
    readonly paper: Paper,
  ) {}
  hear() {
    const before = new Map(this.mine.map(l => [l.id, l.typed]))
    const touched = new Set(changesOf(this, same).map(c => c.id))
    const told = this.paper.since(this.seen)
    const m = mergeLines(this, told, same)
    // Whatever was typed here and is not saved stands there still.
    for (const id of touched)
      if (before.has(id)) expect(m.mine.find(l => l.id === id)?.typed, `${id} of ${this.name}`).to.equal(before.get(id))
    this.base = m.base
    this.mine = m.mine
    for (const [id, t] of m.differing) this.differing.set(id, t)
    this.seen = this.paper.version
  }
  /** Says which of two versions stands. */
  settle(id: string, keep: boolean) {
    const t = this.differing.get(id)!
    this.differing.delete(id)
    this.base.set(id, t)
    if (!keep) {
      this.mine = this.mine.filter(l => l.id !== id)
      if (t.content) this.mine.push(t.content)
    }
  }
  save() {
    const stale = this.paper.save(this.name, changesOf(this, same, this.differing))
    this.hear()
    for (const s of stale)
      expect(this.differing.has(s.id) || !this.mine.some(l => l.id === s.id && !same(l, s.content ?? l))).to.equal(true)
  }
  text = () => this.mine.map(l => `${l.id}=${l.typed}`)
}

describe('two people on one paper', () => {
  it('merge what is about different lines, and ask about the same one', () => {
    const p = new Paper()
    const [ines, tova] = [new Writer('Ines', p), new Writer('Tova', p)]
    ines.mine = [line('a', '1'), line('b', '2'), line('c', '3')]
    ines.save()
    tova.hear()
    expect(tova.text()).to.deep.equal(['a=1', 'b=2', 'c=3'])
    ines.mine = [line('a', '10'), line('b', '20'), line('c', '3')]
    tova.mine = [line('a', '1'), line('b', '22'), line('n', 'new'), line('c', '3')]
    ines.save()
    tova.save()
    expect(p.text()).to.deep.equal(['a=10', 'b=20', 'n=new', 'c=3'])
    expect(tova.text(), 'hers stays on her screen').to.deep.equal(['a=10', 'b=22', 'n=new', 'c=3'])
    expect(tova.differing.get('b')).to.deep.include({ content: line('b', '20'), by: 'Ines' })
    tova.save()
    expect(p.text()[1], 'nothing is written over before she says so').to.equal('b=20')
    tova.settle('b', true)
    tova.save()
    ines.hear()
    expect(ines.text()).to.deep.equal(['a=10', 'b=22', 'n=new', 'c=3'])
  })
  it('and news that is old, or says what stands here, changes nothing', () => {
    const base = new Map([['a', { revision: 5, position: 1, content: line('a', '1') }]])
    const tell = (revision: number, content: Line | null, mine = [line('a', '1')]) =>
      mergeLines({ base, mine }, [{ id: 'a', revision, position: 1, by: 'Ines', content }], same)
    for (const revision of [4, 5]) {
      const old = tell(revision, line('a', 'older'))
      expect([old.mine, old.base.get('a')!.revision]).to.deep.equal([[line('a', '1')], 5])
    }
    const agreed = tell(6, line('a', '2'), [line('a', '2')])
    expect([agreed.differing.size, agreed.base.get('a')!.content]).to.deep.equal([0, line('a', '2')])
    const here = line('a', '2')
    expect(tell(6, line('a', '2'), [here]).mine[0], 'what stands here is not put anew').to.equal(here)
    expect(tell(6, null, []).differing.size, 'taken off by both').to.equal(0)
  })
  it('and what differs waits, whether it was changed or taken off', () => {
    const base = new Map([
      ['a', { revision: 1, position: 1, content: line('a', '1') }],
      ['b', { revision: 1, position: 2, content: line('b', '1') }],
      ['c', { revision: 1, position: 3, content: null }],
    ])
    const ids = (withheld: string[]) =>
      changesOf({ base, mine: [line('a', '2')] }, same, new Set(withheld)).map(c => [c.id, c.content?.typed ?? null])
    expect(ids([])).to.deep.equal([
      ['a', '2'],
      ['b', null],
    ])
    expect([ids(['a']), ids(['b'])]).to.deep.equal([[['b', null]], [['a', '2']]])
  })
  it('and a line that was only moved asks nobody anything', () => {
    const told = [{ id: 'a', revision: 5, position: 9, by: 'Ines', content: line('a', '1') }]
    const base = new Map([['a', { revision: 2, position: 1, content: line('a', '1') }]])
    const m = mergeLines({ base, mine: [line('a', '7')] }, told, same)
    expect([m.mine, m.differing.size, m.base.get('a')!.revision, m.base.get('a')!.position]).to.deep.equal([
      [line('a', '7')],
      0,
      5,
      9,
    ])
  })
  it('and one takes a line off that the other changes: it comes back', () => {
    const p = new Paper()
    const [ines, tova] = [new Writer('Ines', p), new Writer('Tova', p)]
    ines.mine = [line('a', '1')]
    ines.save()
    tova.hear()
    tova.mine = []
    ines.mine = [line('a', '5')]
    ines.save()
    tova.save()
    expect(tova.text()).to.deep.equal(['a=5'])
    tova.mine = []
    tova.save()
    ines.mine = [line('a', '6')]
    ines.hear()
    expect(ines.differing.get('a')?.content, 'she took it off knowingly').to.equal(null)
    ines.settle('a', false)
    expect([ines.text(), p.text()]).to.deep.equal([[], []])
  })
  it('whatever they do, nobody’s entry is dropped unseen, and in the end all have the same paper', () => {
    const step = fc.record({
      who: fc.nat({ max: 2 }),
      what: fc.constantFrom('type', 'add', 'off', 'save', 'hear', 'settle'),
      where: fc.nat({ max: 5 }),
      keep: fc.boolean(),
    })
    fc.assert(
      fc.property(fc.array(step, { maxLength: 60 }), steps => {
        const p = new Paper()
        const writers = ['Ines', 'Tova', 'Ruben'].map(n => new Writer(n, p))
        let n = 0
        for (const s of steps) {
          const w = writers[s.who]!
          const at = w.mine.length ? s.where % w.mine.length : -1
          if (s.what === 'type' && at >= 0)
            w.mine = w.mine.map((l, i) => (i === at ? line(l.id, `${w.name} ${n++}`) : l))
          else if (s.what === 'add') {
            const i = Math.min(s.where, w.mine.length)
            w.mine = [
              ...w.mine.slice(0, i),
              line(`l${String(n).padStart(3, '0')}`, `${w.name} ${n++}`),
              ...w.mine.slice(i),
            ]
          } else if (s.what === 'off' && at >= 0 && !w.differing.has(w.mine[at]!.id))
            w.mine = w.mine.filter((_, i) => i !== at)
          else if (s.what === 'save') w.save()
          else if (s.what === 'hear') w.hear()
          else if (s.what === 'settle' && w.differing.size) w.settle([...w.differing.keys()][0]!, s.keep)
        }
        for (let round = 0; round < 4; round++)
          for (const w of writers) {
            w.hear()
            for (const id of [...w.differing.keys()]) w.settle(id, true)
            w.save()
          }
        for (const w of writers) w.hear()
        for (const w of writers) expect(w.text(), w.name).to.deep.equal(p.text())
      }),
      { numRuns: 300 },
    )
  })
})
