import { appendFileSync, readdirSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { expect } from 'chai'
import { eq } from 'drizzle-orm'
import { v7 } from 'uuid'
import type { Item, LookRow, Problem } from '@shelve/contract'
import { compose, backup, DATABASE, restore, schema, verify } from '@shelve/server'
import { Backups } from '../src/ground/db/schedule.ts'
import { dropUnshown } from '../src/papers/pictures.ts'
import { Client, newItem, PNG, sendPicture, world, type World } from './client.ts'

describe('receiving: straight to a user, and photographs', () => {
  let w: World
  let pump: Item
  let serum: Item
  let job: string
  let centre: string
  before(async () => {
    w = await world()
    pump = await newItem(w.c, { name: 'Pump', code: 'PMP' })
    serum = await newItem(w.c, { name: 'Serum', code: 'SER', identifiedBy: 'lot_expiry' })
    centre = (await w.c.ok<{ id: string }>('POST', '/api/cost-centres', { name: 'Boats', code: 'BOAT' })).id
    job = (await w.c.ok<{ id: string }>('POST', '/api/jobs', { code: 'ENG', name: 'Engine', costCentre: centre })).id
  })
  after(() => w.stop())
  const delivery = (lines: Parameters<Client['line']>[0][], more: object = {}) => ({
    kind: 'receipt' as const,
    place: w.lab.id,
    taker: 'the boat',
    head: { supplier: 'Thole', deliveryNote: 'T 7', ...more },
    lines: lines.map(l => w.c.line(l)),
  })

  it('a line goes straight to a job, another to a cost centre, the rest on the shelf: charged with its freight, never on hand', async () => {
    const content = {
      ...delivery([
        {
          item: pump.id,
          typed: '1',
          price: '80',
          direct: { job, costCentre: null, person: 'Wren' },
          note: 'for the spare engine',
        },
        { item: pump.id, typed: '3', price: '80' },
        {
          item: serum.id,
          typed: '2',
          price: '10',
          lot: { code: 'S1', expiry: '2027-05-01' },
          direct: { job: null, costCentre: centre, person: '' },
        },
      ]),
      head: { supplier: 'Thole', charges: [{ label: 'Freight', amount: '34', basis: 'value' as const }] },
    }
    const effect = await w.c.effect(content)
    expect(effect.lines.map(l => [l.before.onHand, l.after.onHand])).to.deep.equal([
      ['0', '3'],
      ['0', '3'],
      ['0', '0'],
    ])
    const slip = await w.c.must(content)
    // 340 of goods, a tenth of freight on each line.
    expect(slip.lines.map(l => [l.movements[0]!.to, l.movements[0]!.value, l.note])).to.deep.equal([
      ['Engine', '88', 'for the spare engine'],
      ['Wet lab', '264', ''],
      ['Boats', '22', ''],
    ])
    expect([slip.value, slip.taker, slip.content!.lines[0]!.direct!.person]).to.deep.equal(['264', 'the boat', 'Wren'])
    const { rows } = await w.c.get<{ rows: LookRow[] }>(
      '/api/look-back/by?by=cost_centre&flow=used&from=2026-11&to=2026-11',
    )
    expect(rows.map(r => [r.name, r.value])).to.deep.equal([['Boats', '110']])
    const back = await w.c.ok<{ value: string }>('POST', `/api/slips/${slip.id}/reversal`, { id: v7() })
    expect(back.value, 'taken back, the shelf loses what it had got').to.equal('-264')
    expect(
      (
        await w.c.effect(
          delivery([{ item: pump.id, typed: '1', direct: { job: null, costCentre: null, person: 'Wren' } }]),
        )
      ).refusals.map(r => [r.code, r.field]),
    ).to.deep.equal([['for_whom', 'direct']])
  })

  it('a photograph is kept once, shown with its slip to whoever may see the slip, and comes through backup and restore', async () => {
    const { id } = (await (await sendPicture(w.c)).json()) as { id: string }
    const twin = (await (await sendPicture(w.c)).json()) as { id: string }
    expect(readdirSync(join(w.directory, 'pictures')).length, 'the same bytes, one file').to.equal(1)
    const draft = v7()
    await w.c.ok('PUT', `/api/slips/${draft}`, delivery([], { pictures: [id] }))
    const show = (c: Client, slip: string, picture: string) =>
      fetch(`${c.base}/api/slips/${slip}/pictures/${picture}`, { headers: { cookie: c.cookie } })
    const shown = await show(w.c, draft, id)
    expect([
      shown.status,
      shown.headers.get('content-type'),
      shown.headers.get('x-content-type-options'),
    ]).to.deep.equal([200, 'image/png', 'nosniff'])
    expect(Buffer.from(await shown.arrayBuffer()).equals(PNG)).to.equal(true)
    expect((await show(w.c, draft, twin.id)).status, 'not one that the slip does not name').to.equal(404)
    const whole = delivery([{ item: pump.id, typed: '1', price: '1', picture: twin.id }], { pictures: [id] })
    const { body: slip } = await w.c.bookAs(draft, whole)
    expect((await show(w.c, slip.id, twin.id)).status).to.equal(200)
    const shed = (await w.c.ok<{ id: string }>('POST', '/api/places', { name: 'Shed', kind: 'area' })).id
    await w.c.ok('POST', '/api/people', {
      name: 'Sal',
      signIn: 'sal',
      password: 'long enough',
      role: 'keeper',
      place: shed,
    })
    const sal = new Client(w.c.base)
    await sal.ok('POST', '/api/session', { signIn: 'sal', password: 'long enough' })
    expect((await show(sal, slip.id, id)).status).to.equal(404)

    const file = join(w.directory, 'kept', 'b.sqlite')
    await backup(w.directory, file)
    const elsewhere = join(w.directory, 'elsewhere')
    expect((await restore(elsewhere, file, w.clock.now)).missingPictures).to.equal(0)
    const app = compose(join(elsewhere, DATABASE))
    expect(verify(app).ok).to.equal(true)
    const [name] = readdirSync(join(elsewhere, 'pictures'))
    rmSync(join(elsewhere, 'pictures', name!))
    expect(verify(app).faults).to.deep.equal([
      { check: 'pictures', where: name, kept: 'no file', right: 'the picture that was put there' },
    ])
    app.close()
    appendFileSync(join(w.directory, 'kept', 'pictures', name!), 'x')
    rmSync(join(w.directory, 'pictures', name!))
    expect(
      (await restore(elsewhere, file, w.clock.now)).missingPictures,
      'a damaged one is not taken for the picture',
    ).to.equal(1)
    expect(((await (await show(w.c, slip.id, id)).json()) as Problem).code).to.equal('picture_gone')
  })

  it('what is no picture is refused: another type, another content, cut short, too large, nobody signed in, one that was never sent', async () => {
    const said = async (r: Response) => [r.status, ((await r.json()) as Problem).code]
    expect(await said(await sendPicture(w.c, Buffer.from('<html>'), 'image/png'))).to.deep.equal([415, 'not_a_picture'])
    expect(await said(await sendPicture(w.c, PNG.subarray(0, 40)))).to.deep.equal([415, 'not_a_picture'])
    expect(await said(await sendPicture(w.c, PNG, 'text/html'))).to.deep.equal([415, 'not_a_picture'])
    expect(await said(await sendPicture(w.c, Buffer.alloc(9 << 20)))).to.deep.equal([413, 'too_large'])
    expect(await said(await sendPicture(new Client(w.c.base)))).to.deep.equal([401, 'not_signed_in'])
    expect((await w.c.call('PUT', `/api/slips/${v7()}`, delivery([], { pictures: [v7()] }))).body.code).to.equal(
      'unknown_picture',
    )
  })

  it('pictures that no slip shows go a month later, after a backup that has them; what a slip, a draft or a line shows stays, and so do bytes that another shows', async () => {
    const picture = async (mark: string) =>
      (
        (await (
          await sendPicture(w.c, Buffer.concat([PNG.subarray(0, 33), Buffer.from(mark), PNG.subarray(33)]))
        ).json()) as { id: string }
      ).id
    const [ofDraft, ofSlip, ofLine, twin, thrown, taken] = [
      await picture('draft'),
      await picture('slip'),
      await picture('line'),
      await picture('line'),
      await picture('thrown away'),
      await picture('taken off'),
    ]
    const [kept, left, other] = [v7(), v7(), v7()]
    await w.c.ok('PUT', `/api/slips/${kept}`, delivery([], { pictures: [ofDraft, taken] }))
    await w.c.ok('PUT', `/api/slips/${left}`, delivery([], { pictures: [thrown] }))
    await w.c.ok('DELETE', `/api/slips/${left}`)
    await w.c.must(
      delivery([{ item: pump.id, typed: '1', price: '1', picture: ofLine }], { pictures: [ofSlip] }),
      other,
    )
    await w.c.saveAs(kept, delivery([], { pictures: [ofDraft] }))
    const files = () => readdirSync(join(w.directory, 'pictures')).length
    const before = files()
    const backups = new Backups(w.directory, { hours: 24, keep: 1 }, () => w.clock.now)
    const gone: number[] = []
    backups.unshown = (pictures, since) => gone.push(dropUnshown(w.app, pictures, since))
    await backups.take()
    w.clock.now += 31 * 86_400_000
    await w.c.ok('POST', '/api/session', { signIn: 'ines', password: 'correct horse' })
    const late = await picture('just taken, on a slip that is still being written somewhere')
    await backups.take()
    expect(gone).to.deep.equal([0, 3])
    expect(files(), 'two files: the twin has the bytes of a picture that is shown').to.equal(before + 1 - 2)
    const has = (uid: string) =>
      w.app.db.select().from(schema.picture).where(eq(schema.picture.uid, uid)).all().length === 1
    expect([ofDraft, ofSlip, ofLine, late, twin, thrown, taken].map(has)).to.deep.equal([
      true,
      true,
      true,
      true,
      false,
      false,
      false,
    ])
    w.clock.now += 1000
    await backups.take()
    expect(
      readdirSync(join(w.directory, 'backups', 'pictures')).length,
      'and none is kept for a backup that is gone',
    ).to.equal(files())
    expect(
      verify(w.app).faults.map(x => x.check),
      'only what the test above deleted',
    ).to.deep.equal(['pictures'])
  })
})
