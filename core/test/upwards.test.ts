import { expect } from 'chai'
import { nearest, upwards } from '@shelve/core'

describe('what is handed down', () => {
  const above: Record<string, string | null> = { acids: 'reagents', reagents: 'all', all: null, egg: 'hen', hen: 'egg' }
  const from = (name: string | null | undefined) => upwards(name, n => above[n])

  it('comes from the nearest that says it, nothing and null being not said, and 0 being said', () => {
    expect([...from('acids')]).to.deep.equal(['acids', 'reagents', 'all'])
    expect([...from('all'), ...from('unknown'), ...from(null), ...from(undefined)]).to.deep.equal(['all', 'unknown'])
    const says = (said: Record<string, number>) => nearest(from('acids'), n => said[n] ?? null)
    expect([says({ all: 1 }), says({ reagents: 0, all: 1 }), says({ acids: 3, all: 1 }), says({})]).to.deep.equal([
      1,
      0,
      3,
      null,
    ])
  })
  it('of a circle ends', () => {
    expect([...from('egg')]).to.have.lengthOf(50)
    expect(nearest(from('egg'), () => null)).to.equal(null)
  })
})
