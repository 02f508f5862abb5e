import { expect } from 'chai'
import type { Place } from '@shelve/contract'
import { findPlaces, hitOfFound, meantName } from '../src/scan/search.ts'

describe('what the scan strip finds', () => {
  const place = (name: string, path: string, more: Partial<Place> = {}): Place => ({
    id: name,
    revision: 1,
    name,
    parent: null,
    kind: 'bin',
    walk: 0,
    active: true,
    path,
    codes: [],
    own: '',
    mine: true,
    countEveryDays: null,
    openShelf: false,
    ...more,
  })
  const places = [
    place('A1', 'Wet lab, A1'),
    place('Wet lab', 'Wet lab', { kind: 'area' }),
    place('Held', 'Wet lab, Held', { kind: 'held' }),
    place('Attic', 'Attic', { active: false }),
    place('Shed', 'Shed', { mine: false }),
  ]
  it('places by all the words, the whole before its parts; none that is gone or that one may not look into', () => {
    expect(findPlaces(places, 'wet').map(p => p.path)).to.deep.equal(['Wet lab', 'Wet lab, A1', 'Wet lab, Held'])
    expect(findPlaces(places, 'LAB a1').map(p => p.path)).to.deep.equal(['Wet lab, A1'])
    const named = [place('Fadøl', 'Kælder, Fadøl'), place('Carol', 'Kælder, Carol')]
    expect(['ol', 'øl', 'kael', 'FADOL', 'öl'].map(w => findPlaces(named, w).map(p => p.name))).to.deep.equal([
      ['Fadøl', 'Carol'],
      ['Fadøl'],
      ['Fadøl', 'Carol'],
      ['Fadøl'],
      [],
    ])
    expect([findPlaces(places, 'attic'), findPlaces(places, 'shed'), findPlaces(places, '  ')]).to.deep.equal([
      [],
      [],
      [],
    ])
  })
  it('a name that was mistyped, where it is near enough; a name that is there needs none', async () => {
    const names = ['Skerrow Creamery', 'Ostrelith', 'Holmwort', 'Blåvær']
    expect(
      await Promise.all(
        ['Skerow creamry', 'ostre', 'Holmwert', 'holmwort', 'Zebedee', 'as', 'blavaer'].map(n => meantName(names, n)),
      ),
    ).to.deep.equal(['Skerrow Creamery', 'Ostrelith', 'Holmwort', undefined, undefined, undefined, 'Blåvær'])
  })
  it('each kind leads where it is dealt with', () => {
    const found = { id: 'x', name: 'N', note: '', item: null }
    expect(hitOfFound({ ...found, kind: 'slip' }).to).to.deep.equal({ name: 'slip', params: { id: 'x' } })
    expect(hitOfFound({ ...found, kind: 'lot', item: 'y' }).to).to.deep.equal({ name: 'lot', params: { id: 'x' } })
    expect(hitOfFound({ ...found, kind: 'supplier' }).to).to.deep.equal({
      name: 'ledger',
      query: { party: 'supplier', partyId: 'x', about: 'N' },
    })
    expect(hitOfFound({ ...found, kind: 'person' }).to).to.deep.equal({ name: 'ledger', query: { q: 'N' } })
  })
})
