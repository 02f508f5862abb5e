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
})
