import { expect } from 'chai'
import { verify } from '@shelve/server'
import { v7 } from 'uuid'
import { pageCode } from '@shelve/core'
import type { CodeMeaning, CountArea, Item, PrintedSheet, PrintedSheetView, SlipView, Today } from '@shelve/contract'
import { Client, newItem, world, type World } from './client.ts'
import { symbolsOf, textOf } from './pdf.ts'

describe('counting on paper', () => {
  let w: World
  let shelf: string
  let shed: string
  let glove: Item
  let acid: Item
  const pdf = async (method: string, path: string, body?: unknown) => {
    const r = await fetch(w.c.base + path, {
      method,
      headers: { cookie: w.c.cookie, 'content-type': 'application/json' },
      ...(body ? { body: JSON.stringify(body) } : {}),
    })
    expect([r.status, r.headers.get('content-type')], path).to.deep.equal([200, 'application/pdf'])
    return new Uint8Array(await r.arrayBuffer())
  }
  const print = (areas: string[], blind = true, extra = 3) =>
    w.c.ok<{ rows: PrintedSheet[] }>('POST', '/api/sheets', { areas, blind, extra }).then(r => r.rows)
  const enter = (s: PrintedSheet, c = w.c) => c.call<{ id: string }>('POST', `/api/sheets/${s.id}/entry`, { id: v7() })
  const draft = async (id: string) => (await w.c.get<SlipView>(`/api/slips/${id}`)).content!
  const areas = async () => w.c.get<{ rows: CountArea[]; sheets: PrintedSheet[] }>('/api/count-areas')
  const at = (minutes: number) => new Date(w.clock.now + minutes * 60_000).toISOString().replace('.000', '')

  before(async () => {
    w = await world()
    shelf = (await w.c.ok<{ id: string }>('POST', '/api/places', { name: 'B1', kind: 'bin', parent: w.lab.id })).id
    shed = (await w.c.ok<{ id: string }>('POST', '/api/places', { name: 'Shed', kind: 'area', countEveryDays: 14 })).id
    glove = await newItem(w.c, {
      name: 'Gloves, nitrile',
      code: 'GLV',
      unit: 'box',
      packs: [{ name: 'case', size: '12', counting: true }],
    })
    acid = await newItem(w.c, { name: 'Acetic acid, glacial', code: 'ACE', unit: 'bottle', identifiedBy: 'lot_expiry' })
    await w.c.must({
      kind: 'receipt',
      place: w.lab.id,
      head: { supplier: 'Aster' },
      lines: [
        w.c.line({ item: glove.id, typed: '1234', price: '1', to: shelf }),
        w.c.line({ item: acid.id, typed: '7', price: '1', lot: { code: 'L-20', expiry: '2027-03-31' } }),
      ],
    })
    await w.c.must({
      kind: 'receipt',
      place: shed,
      head: { supplier: 'Thole' },
      lines: Array.from({ length: 60 }, (_, i) => i).map(() => w.c.line({ item: glove.id, typed: '1', price: '1' })),
    })
  })
  after(() => w.stop())

  it('the sheets say what is to be counted, with figures or blind; each page has a code of its own, which reads back', async () => {
    const [lab, other] = await print([w.lab.id, shed], false)
    const paper = await pdf('GET', `/api/sheet-papers?sheets=${lab!.id},${other!.id}`)
    const [first, second] = await textOf(paper)
    expect(first!.slice(0, 3)).to.deep.equal([
      'Wet lab',
      'Count sheet 1, page 1 of 2 · with figures · Test station',
      pageCode(lab!.number, 1),
    ])
    expect(first!.slice(3).join(' | ')).to.equal(
      'Printed 25 Nov 2026 10:00 by Ines Corrie | Counted on at (time) by | Item Expected as expected Counted in | Wet lab | Acetic acid, glacial | 1 7 bottle | ACE · lot L-20 , use by 31 Mar 2027 | Wet lab, B1 | Gloves, nitrile | 2 1 234 box | GLV · case of 12 | What else lies here | + lot | + lot | + lot',
    )
    expect(second!.slice(0, 2)).to.deep.equal(['Shed', 'Count sheet 1, page 2 of 2 · with figures · Test station'])
    expect([lab!.number, other!.number, lab!.firstPage, other!.firstPage], 'one number for both').to.deep.equal([
      1, 1, 1, 2,
    ])
    expect((await w.c.get<CodeMeaning>(`/api/codes/${pageCode(1, 2)}`)).sheet).to.deep.equal({ id: other!.id, page: 2 })
    expect((await w.c.get<PrintedSheetView>(`/api/sheets/${other!.id}?page=2`)).lines.length).to.be.greaterThan(0)
    expect((await textOf(await pdf('GET', `/api/sheet-papers?sheets=${other!.id}`)))[0]![1]).to.match(/page 2 of 2/)
    expect(await symbolsOf(paper)).to.deep.equal([[pageCode(lab!.number, 1)], [pageCode(lab!.number, 2)]])
    const blind = (
      await textOf(await pdf('POST', '/api/sheet-preview', { areas: [w.lab.id], blind: true, extra: 0 }))
    )[0]!.join(' ')
    expect(blind)
      .to.include('Acetic acid')
      .and.include('blind')
      .and.not.match(/1.?234|Expected|sheet \d/)
  })

  it('an area of many lines goes over pages, and every page is read by the scanner', async () => {
    const many = (await w.c.ok<{ id: string }>('POST', '/api/places', { name: 'Long shelf', kind: 'area' })).id
    const items = await Promise.all(
      Array.from({ length: 45 }, (_, i) =>
        newItem(w.c, {
          name: `Thing ${String(i).padStart(2, '0')}, with a name that is rather longer than a line on paper has room for`,
          code: `TH-${i}`,
        }),
      ),
    )
    await w.c.must({
      kind: 'receipt',
      place: many,
      head: { supplier: 'Aster' },
      lines: items.map(i => w.c.line({ item: i.id, typed: '1', price: '1' })),
    })
    const [s] = await print([many], true, 6)
    const paper = await pdf('GET', `/api/sheet-papers?sheets=${s!.id}`)
    const pages = await textOf(paper)
    expect(pages.length).to.equal(s!.pages).and.equal(3)
    expect(pages.map(p => p.filter(l => /TH-\d+/.test(l)).length).reduce((a, b) => a + b)).to.equal(45)
    expect(await symbolsOf(paper)).to.deep.equal([1, 2, 3].map(p => [pageCode(s!.number, p)]))
    expect((await w.c.get<CodeMeaning>(`/api/codes/${pageCode(s!.number, 2)}`)).sheet).to.deep.equal({
      id: s!.id,
      page: 2,
    })
    expect(
      (await w.c.get<CodeMeaning>(`/api/codes/${pageCode(s!.number, 4)}`)).kind,
      'there is no fourth page',
    ).to.equal('unknown')
    const page = await w.c.get<PrintedSheetView>(`/api/sheets/${s!.id}?page=2`)
    expect(page.lines.every(l => l.page === 2 && l.expected === null)).to.equal(true)
    expect(pages[1]!.filter(l => /TH-\d+/.test(l)).length).to.equal(page.lines.length)
  })

  it('is entered with the time that stands on the page: what moved since is known; once, and by one hand', async () => {
    const [s] = await print([w.lab.id], false)
    w.clock.now += 3_600_000
    const counted = at(-30)
    await w.c.must({
      kind: 'issue',
      place: w.lab.id,
      effectiveAt: at(-10),
      head: {
        costCentre: (await w.c.ok<{ id: string }>('POST', '/api/cost-centres', { name: 'Sea lab', code: 'SEA' })).id,
      },
      lines: [w.c.line({ item: acid.id, typed: '2' })],
    })
    const { id } = (await enter(s!)).body
    const again = await enter(s!)
    expect(again.body.id, 'whoever comes second goes on with the same draft').to.equal(id)
    const content = await draft(id)
    expect(content.head).to.include({ sheet: s!.id, blind: false })
    const line = (code: string) => content.lines.find(l => l.item === (code === 'ACE' ? acid : glove).id)!
    Object.assign(line('ACE'), { counted: 'counted', typed: '7', countedAt: counted })
    Object.assign(line('GLV'), { counted: 'confirmed', countedAt: counted })
    const effect = await w.c.ok<{ lines: { expected: string; difference: string }[] }>(
      'POST',
      `/api/slips/${id}/effect`,
      content,
    )
    expect(
      effect.lines.map(l => [l.expected, l.difference]),
      '7 lay there when they were counted, two were taken since',
    ).to.deep.equal([
      ['7', '0'],
      ['1234', '0'],
    ])
    const early = {
      ...content,
      lines: content.lines.map(l => ({ ...l, countedAt: l.counted === 'not' ? null : at(-70) })),
    }
    expect(
      (await w.c.bookAs(id, early)).body.fields.filter(f => f.code === 'before_printing').map(f => [f.code, f.line]),
    ).to.deep.equal([
      ['before_printing', line('ACE').id],
      ['before_printing', line('GLV').id],
    ])
    expect((await w.c.bookAs(id, content)).status).to.equal(201)
    const twice = await enter(s!)
    expect([twice.status, twice.body.code, twice.body.detail]).to.deep.equal([
      409,
      'sheet_entered',
      'Sheet 3 was entered already, on CT-0001. If something on it was wrong, correct that slip, or take it back as a whole and enter the sheet again.',
    ])
    const copy = { ...content, lines: content.lines.map(l => ({ ...l, id: v7() })) }
    expect((await w.c.book(copy)).body.code, 'nor as another slip').to.equal('sheet_entered')
    expect((await w.c.call('DELETE', `/api/sheets/${s!.id}`)).body.code).to.equal('sheet_entered')

    // Taken back line by line: while any of it stands the sheet is entered; then it can be entered again, from what was typed.
    const lines = (await w.c.get<SlipView>(`/api/slips/${id}`)).lines.filter(l => l.state === 'stands')
    for (const [i, l] of lines.entries()) {
      expect((await enter(s!)).body.code).to.equal('sheet_entered')
      await w.c.must({
        kind: 'correction',
        head: { corrects: id },
        lines: [w.c.line({ ref: l.id, act: 'take_back', item: l.item!.id })],
      })
      expect(i).to.be.lessThan(2)
    }
    expect(
      (await areas()).rows.find(a => a.id === w.lab.id),
      'a count that was taken back was none',
    ).to.deep.include({ last: null, lastSlip: null })
    expect(
      (await areas()).sheets.map(x => [x.id, x.entry]),
      'and its sheet waits again',
    ).to.deep.include([s!.id, null])
    const anew = (await enter(s!)).body.id
    expect(anew).not.to.equal(id)
    const second = await draft(anew)
    expect(second.lines.map(l => [l.counted, l.typed, l.countedAt])).to.deep.equal(
      content.lines.map(l => [l.counted, l.typed, l.countedAt]),
    )
    const { lines: paper } = await w.c.get<PrintedSheetView>(`/api/sheets/${s!.id}`)
    expect(
      second.lines.map(l => l.id),
      'each stands on its line of the paper',
    ).to.deep.equal(paper.map(l => l.id))
    second.lines.find(l => l.item === acid.id)!.typed = '6'
    second.lines.find(l => l.item === acid.id)!.again = '6'
    expect((await w.c.bookAs(anew, second)).body.lines.find(l => l.item!.id === acid.id)!.state).to.equal('stands')
    expect((await enter(s!)).body.code).to.equal('sheet_entered')
  })

  it('a page of an older sheet is refused, and one that was thrown away; a draft thrown away frees its sheet', async () => {
    const [old] = await print([shed])
    const [young] = await print([shed])
    const late = await enter(old!)
    expect([late.status, late.body.code, late.body.detail]).to.deep.equal([
      409,
      'sheet_older',
      `Sheet ${old!.number} is not valid any more: sheet ${young!.number} was printed after it. What was counted on it can be entered as a count without a sheet.`,
    ])
    const { id } = (await enter(young!)).body
    expect((await areas()).rows.find(a => a.id === shed)).to.deep.include({
      draft: { id, by: 'Ines Corrie', mine: true, paper: true },
      every: 14,
      due: '2026-12-09',
      last: null,
    })
    await w.c.ok('DELETE', `/api/slips/${id}`)
    expect((await areas()).sheets.find(x => x.id === young!.id)!.entry).to.equal(null)
    const { waiting } = await w.c.get<Today>(`/api/today?place=${shed}`)
    expect(
      waiting.filter(x => x.kind === 'sheet').map(x => [x.sheet!.number, x.place!.name, x.n]),
      'Today says that it waits',
    ).to.deep.equal([[young!.number, 'Shed', 1]])
    await w.c.ok('DELETE', `/api/sheets/${young!.id}`)
    expect((await enter(young!)).body.code).to.equal('sheet_older')
    expect((await areas()).sheets.filter(x => x.place === shed)).to.deep.equal([])
  })

  it('none of an item with lots, where the books know of none, asks for no lot; where they know of some, it does', async () => {
    const empty = (await w.c.ok<{ id: string }>('POST', '/api/places', { name: 'Hide', kind: 'area' })).id
    const none = (more: object) =>
      w.c.effect({
        kind: 'count',
        place: empty,
        head: { blind: false },
        lines: [w.c.line({ item: acid.id, from: empty, counted: 'counted', typed: '0', ...more })],
      })
    const glove2 = w.c.line({ item: glove.id, from: empty, counted: 'counted', typed: '0' })
    const both = (more: object) =>
      w.c.effect({
        kind: 'count',
        place: empty,
        head: { blind: false },
        lines: [w.c.line({ item: acid.id, from: empty, ...more }), glove2],
      })
    expect((await both({ counted: 'counted', typed: '0' })).refusals).to.deep.equal([])
    expect((await both({ counted: 'confirmed' })).lines.map(l => [l.expected, l.difference])).to.deep.equal([
      ['0', '0'],
      ['0', '0'],
    ])
    expect((await none({ typed: '2' })).refusals.map(r => r.code)).to.deep.equal(['lot_needed'])
    expect(
      (await none({})).refusals.map(r => r.code),
      'alone it is nothing to book',
    ).to.deep.equal(['nothing_to_tally'])
    const booked = await w.c.must({
      kind: 'count',
      place: empty,
      lines: [
        w.c.line({ item: acid.id, from: empty, counted: 'counted', typed: '0' }),
        w.c.line({ item: glove.id, from: empty, counted: 'counted', typed: '0' }),
      ],
    })
    expect([booked.number, booked.lines.length]).to.deep.equal(['CT-0003', 2])
    w.clock.now += 60_000
    await w.c.received(
      empty,
      'Aster',
      w.c.line({ item: acid.id, typed: '1', price: '1', lot: { code: 'L-30', expiry: '2028-01-01' } }),
    )
    expect((await none({})).refusals.map(r => r.code)).to.deep.equal(['lot_needed'])
    expect(verify(w.app).faults).to.deep.equal([])
  })

  it('nobody prints or reads sheets of places that are not theirs; nonsense is refused', async () => {
    await w.c.ok('POST', '/api/people', {
      name: 'Sal',
      signIn: 'sal',
      password: 'long enough',
      role: 'keeper',
      place: w.lab.id,
    })
    const sal = new Client(w.c.base)
    await sal.ok('POST', '/api/session', { signIn: 'sal', password: 'long enough' })
    const [theirs] = await print([shed])
    for (const [method, path, body] of [
      ['POST', '/api/sheets', { areas: [shed], blind: true }],
      ['POST', '/api/sheet-preview', { areas: [shed], blind: true }],
      ['GET', `/api/sheets/${theirs!.id}`],
      ['GET', `/api/sheet-papers?sheets=${theirs!.id}`],
      ['POST', `/api/sheets/${theirs!.id}/entry`, { id: v7() }],
      ['DELETE', `/api/sheets/${theirs!.id}`],
    ] as const)
      expect((await sal.call(method, path, body)).status, `${method} ${path}`).to.equal(
        body && 'areas' in body ? 422 : 404,
      )
    expect((await w.c.call('GET', '/api/sheet-papers?sheets=')).status).to.equal(404)
    expect((await w.c.call('POST', '/api/sheets', { areas: [], blind: true })).status).to.equal(422)
  })
})
