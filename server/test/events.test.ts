import { join } from 'node:path'
import { backup, compose, DATABASE, restore, serve } from '@shelve/server'
import { expect } from 'chai'
import type { Response } from 'express'
import { EventLog, type Hearer } from '../src/ground/events.ts'
import { world, type World } from './client.ts'

/** A stream as it is written, piece by piece. */
function stream() {
  const written: string[] = []
  let ended = false
  let heard = () => undefined as void
  const response = {
    status: () => response,
    set: () => response,
    flushHeaders: () => undefined,
    on: () => response,
    write: (text: string) => {
      written.push(text)
      heard()
      return true
    },
    end: () => {
      ended = true
      heard()
    },
  }
  const until = (what: () => boolean) =>
    new Promise<void>(ok => {
      heard = () => what() && ok()
      heard()
    })
  return { response: response as unknown as Response, written, ended: () => ended, until }
}

describe('a stream of events', () => {
  let w: World
  beforeEach(async () => {
    w = await world()
  })

  it('says again and again that it is still there, as an event that a page hears, until its session is over', async () => {
    const log = new EventLog(w.app.db, () => w.clock.now, false, 3)
    let over = false
    const hearer: Hearer = { session: 's', now: () => (over ? undefined : () => true) }
    const s = stream()
    log.open(s.response, undefined, hearer)
    // By the standard (HTML, 9.2.6) what has no data is no event.
    const beats = () => s.written.filter(t => /^event: beat\ndata: .+\n\n$/.test(t)).length
    await s.until(() => beats() > 2)
    expect(s.ended(), 'it goes on').to.equal(false)
    over = true
    await s.until(s.ended)
    log.close()
  })

  it('of whom it cannot be read what they may hear ends; the others are told what happens, and that it is still there', async () => {
    const log = new EventLog(w.app.db, () => w.clock.now, false, 3)
    const [first, second, third] = [stream(), stream(), stream()]
    let broken = ''
    const hearer = (session: string): Hearer => ({
      session,
      now: () => {
        if (broken.includes(session)) throw new Error('disk I/O error')
        return () => true
      },
    })
    for (const [s, name] of [
      [first, 'a'],
      [second, 'b'],
      [third, 'c'],
    ] as const)
      log.open(s.response, undefined, hearer(name))
    broken = 'a'
    await first.until(first.ended)
    broken = 'ab'
    log.add('setup', {})
    log.flush()
    expect([second.ended(), third.ended()]).to.deep.equal([true, false])
    expect(third.written.at(-1)).to.include('"kind":"setup"')
    log.close()
  })

  it('one that heard of more than there is, since a backup was put in place, is told all anew; each answer says so by then, for good', async () => {
    const w = await world()
    const file = join(w.directory, 'kept', 'b.sqlite')
    await backup(w.directory, file)
    const until = w.clock.now
    w.clock.now += 60_000
    for (let n = 0; n < 3; n++) w.app.setUp(() => undefined)
    const heard = w.app.events.last()
    const elsewhere = join(w.directory, 'elsewhere')
    w.clock.now += 60_000
    await restore(elsewhere, file, w.clock.now)
    const app = compose(join(elsewhere, DATABASE), { now: () => w.clock.now })
    const putBack = { at: new Date(w.clock.now).toISOString(), until: new Date(until).toISOString() }
    const last = app.events.last()
    expect(last).to.be.lessThan(heard)
    const told = (after: number, log = app.events) => {
      const s = stream()
      log.open(s.response, after, { session: 's', now: () => () => true })
      return s.written.map(t => {
        const { seq, kind, detail } = JSON.parse(/^data: (.*)$/m.exec(t)![1]!) as {
          seq: number
          kind: string
          detail: object
        }
        return [seq, kind, detail]
      })
    }
    const hello = [last, 'hello', { putBack }]
    expect(told(heard)).to.deep.equal([[last, 'reload', {}], hello])
    expect(told(last), 'one that heard as much').to.deep.equal([hello])
    expect(w.app.events.putBack, 'where none was').to.equal(null)
    const running = await serve(app, 0, '127.0.0.1')
    for (const path of ['/api/start', '/api/nothing', '/api/session'])
      expect((await fetch(`http://127.0.0.1:${running.port}${path}`)).headers.get('shelve-put-back')).to.equal(
        putBack.at,
      )
    expect((await fetch(`${w.c.base}/api/start`)).headers.has('shelve-put-back')).to.equal(false)
    // However much happens after that.
    app.store.client.transaction(() => {
      for (let n = 0; n < 2500; n++) app.events.add('setup', {})
    })()
    expect(new EventLog(app.db, () => w.clock.now).putBack).to.deep.equal(putBack)
    await running.stop()
    await w.stop()
  })
})
