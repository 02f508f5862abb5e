import { expect } from 'chai'
import { v7 } from 'uuid'
import type { Named, RestockRow, RestockView } from '@shelve/contract'
import { MailServer } from '@shelve/standins'
import { newItem, world, type World } from './client.ts'
import { textOf } from './pdf.ts'

describe('restock slips by mail, to a mail server that speaks SMTP', () => {
  const server = new MailServer()
  let port: number
  let w: World
  let supplier: string
  let item: string
  before(async () => {
    ;({ port } = await server.start())
    w = await world({ mail: { url: `smtp://127.0.0.1:${port}`, from: 'stores@example.org' } })
    item = (await newItem(w.c, { name: 'Gloves, “nitrile”', code: 'GLV', unit: 'box' })).id
    await w.c.received(w.lab.id, 'Aster', w.c.line({ item, typed: '1', price: '1' }))
    supplier = (await w.c.get<{ rows: Named[] }>('/api/suppliers')).rows[0]!.id
  })
  after(async () => {
    await w.stop()
    await server.stop()
  })
  const begin = async () => {
    const id = v7()
    await w.c.ok('POST', '/api/restock', {
      id,
      source: { kind: 'supplier', id: supplier },
      note: 'Grüße\n.\n.dots begin this line',
      lines: [{ id: v7(), item, place: w.lab.id, typed: '12', why: 'by hand' }],
    })
    return id
  }
  const send = (id: string, to = 'orders@aster.example') =>
    w.c.call<RestockView>('POST', `/api/restock/${id}/mails`, { to, expected: '2026-12-10' })
  const letter = async (id: string) => (await w.c.get<RestockView>(`/api/restock/${id}`)).mail.letters[0]!
  /** Waits until the sender has nothing in hand. */
  const settle = async () => {
    await w.app.post!.tick()
    await w.app.post!.tick()
  }

  it('goes out with its lines as text, PDF and CSV, and is asked for from then on; the address is remembered', async () => {
    const id = await begin()
    const v = (await send(id)).body
    expect([v.state, v.asked!.where, v.asked!.expected]).to.deep.equal([
      'asked',
      'by mail, orders@aster.example',
      '2026-12-10',
    ])
    await settle()
    const [got] = server.letters
    expect([got!.from, got!.to, got!.subject]).to.deep.equal([
      'stores@example.org',
      ['orders@aster.example'],
      'Test station: RS-0001, 1 line we ask for, 25 Nov 2026',
    ])
    expect(got!.text).to.equal(
      'To Aster,\n\nplease let us have:\n\n12 box  Gloves, “nitrile” (GLV)\n\nGrüße\n.\n.dots begin this line\n\nWe expect it by 10 Dec 2026.\n\nInes Corrie\nTest station\nOur number: RS-0001\n',
    )
    expect(got!.attachments.map(a => [a.name, a.type])).to.deep.equal([
      ['Test-station-2026-11-25.pdf', 'application/pdf'],
      ['Test-station-2026-11-25.csv', 'text/csv'],
    ])
    expect((await textOf(got!.attachments[0]!.content))[0]).to.include(
      'GLV Gloves, “nitrile” 12 box 12 box Wet lab by hand',
    )
    expect(got!.attachments[1]!.content.toString()).to.include('GLV,"Gloves, “nitrile”",12,box,12,box,Wet lab,by hand')
    expect(await letter(id)).to.include({ state: 'sent', attempts: 1, trouble: null })
    expect((await w.c.get<RestockView>(`/api/restock/${await begin2()}`)).mail).to.include({
      possible: true,
      lastTo: 'orders@aster.example',
    })
  })
  /** Another item, for what was asked for is not taken twice. */
  const begin2 = async () => {
    const other = (await newItem(w.c, { name: 'Other' })).id
    const id = v7()
    await w.c.ok('POST', '/api/restock', {
      id,
      source: { kind: 'supplier', id: supplier },
      lines: [{ id: v7(), item: other, place: w.lab.id, typed: '1' }],
    })
    return id
  }

  it('while the mail server is down it waits, is tried again after a while, and shown meanwhile', async () => {
    await server.stop()
    const id = await begin2()
    await send(id)
    await settle()
    const waiting = await letter(id)
    expect(waiting).to.include({ state: 'queued', attempts: 1, nextAt: '2026-11-25T09:01:00.000Z' })
    expect(waiting.trouble).to.match(/ECONNREFUSED/)
    const { slips } = await w.c.get<{ slips: RestockRow[] }>('/api/restock')
    expect(slips.find(s => s.id === id)!.unsent).to.include({ id: waiting.id, attempts: 1 })
    await settle()
    expect((await letter(id)).attempts, 'not before its time').to.equal(1)
    await server.start(port)
    w.clock.now += 61_000
    await settle()
    expect(await letter(id)).to.include({ state: 'sent', attempts: 2, trouble: null })
    expect(server.letters.filter(l => l.messageId === `<${waiting.id}@shelve>`).length, 'once').to.equal(1)
  })

  it('busy is tried again, a broken connection too; an address that is refused for good is not, and says so in the server’s words', async () => {
    const id = await begin2()
    server.failure = 'busy'
    await send(id)
    await settle()
    expect((await letter(id)).trouble).to.match(/451 try again later/)
    server.failure = 'hangs up'
    w.clock.now += 61_000
    await settle()
    expect(await letter(id)).to.include({ state: 'queued', attempts: 2 })
    server.failure = 'refuses'
    w.clock.now += 5 * 60_000 + 1000
    await settle()
    const failed = await letter(id)
    expect(failed).to.include({ state: 'failed', attempts: 3 })
    expect(failed.trouble).to.match(/550 there is no orders@aster.example here/)
    server.failure = 'none'
    await w.c.ok('POST', `/api/mails/${failed.id}/attempts`)
    await settle()
    expect((await letter(id)).state, 'tried again by hand').to.equal('sent')
    expect((await w.c.call('POST', `/api/mails/${failed.id}/attempts`)).body.code).to.equal('sent_already')
  })

  it('what became of a letter is written down before anything else goes out, though that fails for a while: nobody gets it twice', async () => {
    const { client } = w.app.store
    const id = await begin2()
    // As on a disk that takes no more.
    client.exec("create trigger full before update on mail begin select raise(abort, 'database or disk is full'); end")
    const before = server.letters.length
    await send(id)
    await settle()
    expect((await letter(id)).state).to.equal('queued')
    await settle()
    client.exec('drop trigger full')
    await settle()
    expect(await letter(id)).to.include({ state: 'sent', attempts: 1 })
    expect(server.letters.length - before, 'once').to.equal(1)
  })

  it('ends with its house: nothing is looked for after that, nor where a letter is on its way just then', async () => {
    const failed: unknown[] = []
    const fell = (e: unknown) => void failed.push(e)
    process.on('unhandledRejection', fell)
    const house = await world({ mail: { url: `smtp://127.0.0.1:${port}`, from: 'stores@example.org' } })
    const flour = (await newItem(house.c, { name: 'Flour' })).id
    const slip = v7()
    await house.c.ok('POST', '/api/restock', {
      id: slip,
      source: { kind: 'nobody', id: null },
      lines: [{ id: v7(), item: flour, place: house.lab.id, typed: '1' }],
    })
    const { post } = house.app
    post!.start(1, 1)
    await house.c.ok('POST', `/api/restock/${slip}/mails`, { to: 'orders@aster.example' })
    // It is handed over just now, or was.
    const underWay = post!.tick()
    await house.stop()
    await underWay
    await post!.tick()
    await new Promise(done => setTimeout(done, 30))
    process.off('unhandledRejection', fell)
    expect(failed).to.deep.equal([])
  })

  it('what is no address, or would smuggle a line into the letter’s head, is refused; without a mail server nothing is marked as asked for', async () => {
    const id = await begin2()
    for (const to of ['orders', 'a@b.example\r\nBcc: c@d.example', 'a@b.example, c@d.example', ''])
      expect((await send(id, to)).status, to).to.equal(422)
    const silent = await world()
    const it2 = (await newItem(silent.c, { name: 'X' })).id
    const slip = v7()
    await silent.c.ok('POST', '/api/restock', {
      id: slip,
      source: { kind: 'nobody', id: null },
      lines: [{ id: v7(), item: it2, place: silent.lab.id, typed: '1' }],
    })
    expect((await silent.c.call('POST', `/api/restock/${slip}/mails`, { to: 'a@b.example' })).body.code).to.equal(
      'no_mail',
    )
    expect((await silent.c.get<RestockView>(`/api/restock/${slip}`)).state).to.equal('open')
    await silent.stop()
  })
})
