// What was read within a transaction that came to nothing is kept by nobody: who writes next would go by it.
import { expect } from 'chai'
import { createItem, schema } from '@shelve/server'
import { eq } from 'drizzle-orm'
import { newItem, world, type World } from './client.ts'

describe('a transaction that comes to nothing', () => {
  let w: World
  before(async () => {
    w = await world()
  })
  after(() => w.stop())
  /** Two ways to change anything: of set-up, and of the ledger. */
  const ways: Record<string, (run: () => void) => Promise<unknown>> = {
    change: async run => w.app.change('setup', run),
    commit: run => w.app.commit(run),
  }
  const refused = async (way: string, run: () => void) => {
    const said = await ways[way]!(() => {
      run()
      throw new Error('no')
    }).catch((e: Error) => e.message)
    expect(said).to.equal('no')
  }
  const all = (id: number, uid: string) => {
    const row = w.app.known.itemById(id)
    return [
      row?.name,
      w.app.known.item(uid)?.name,
      row && w.app.known.measure(row).packs.map(p => p.name),
      row && w.app.known.plainLot(id),
      w.app.rules.rule(id)?.costedSince,
    ]
  }

  for (const way of Object.keys(ways)) {
    it(`${way}: an item that was made in it is not there`, async () => {
      let made = { id: 0, uid: '' }
      await refused(way, () => {
        const id = createItem(w.app, {
          ...{ code: `OF-${way}`, name: 'Of nobody', unit: 'each', identifiedBy: 'quantity' },
          packs: [{ name: 'case', size: '10' }],
        })
        made = { id, uid: w.app.rows.itemById.get({ id })!.uid }
        expect(all(id, made.uid).slice(0, 3)).to.deep.equal(['Of nobody', 'Of nobody', ['case']])
      })
      expect(all(made.id, made.uid)).to.deep.equal([undefined, undefined, undefined, undefined, undefined])
    })
    it(`${way}: an item that was changed in it is as it was`, async () => {
      const { id: uid } = await newItem(w.c, { name: 'Rope', packs: [{ name: 'coil', size: '50' }] })
      w.app.forget()
      const { id } = w.app.rows.item.get({ uid })!
      await refused(way, () => {
        w.app.db.update(schema.item).set({ name: 'Cord' }).where(eq(schema.item.uid, uid)).run()
        w.app.store.client.prepare('update pack set retired_at = 1 where item_id = ?').run(id)
        expect(all(id, uid).slice(0, 3)).to.deep.equal(['Cord', 'Cord', []])
      })
      expect(all(id, uid).slice(0, 3)).to.deep.equal(['Rope', 'Rope', ['coil']])
    })
  }
})
