// Items from a spreadsheet: looked at first, then taken whole or not at all; taken again nothing is doubled.
import { expect } from 'chai'
import { verify } from '@shelve/server'
import type { Item, ItemsTaken, ItemStock, LotView, Place, Problem } from '@shelve/contract'
import { newItem, world, type World } from './client.ts'

/** As a spreadsheet writes it where the decimal mark is a comma. */
const FILE = `\ufeffCode;Name;Category;Unit;Decimals;Identified by;Packs;Barcodes;Shelf life;Place;Minimum;Target;Bin;There now;Lot;Use by;One cost
AGA;Agar;Media;g;1;lot and expiry;jar=500 9521234000014;;730;Wet lab;250;1500;Shelf 1;1 jar + 20,5;A7;31.3.2027;0,08
AGA;;;;;;;;;Shed;100;500;;200;A7;31.3.2027;0,08
"SYR;5";"Syringe, 5 ml";Single use;each;;;case=100;9521234000021 9521234000038;;Wet lab;50;200;;130;;;0,12
GLV;Gloves;single use;pair;;;;;;;;;;;;;
`
describe('items from a spreadsheet', () => {
  let w: World
  let shed: Place
  before(async () => {
    w = await world()
    const place = (name: string, parent: string | null, kind: string) =>
      w.c.ok<Place>('POST', '/api/places', { name, kind, parent })
    shed = await place('Shed', w.lab.parent, 'area')
    for (const area of [w.lab, shed]) await place('Shelf 1', area.id, 'bin')
  })
  after(() => w.stop())

  const bring = (text: string, more: object = {}) =>
    w.c.call<ItemsTaken & Problem>('POST', '/api/items/brought', { text, ...more })
  const took = async (text: string, more: object = {}) => {
    const r = await bring(text, more)
    expect(r.status, r.text).to.equal(200)
    return r.body
  }
  const told = (t: ItemsTaken) =>
    t.rows.map(r => [
      r.code,
      r.came,
      ...r.changed.map(c => `${c.what}: ${c.was} → ${c.is}`),
      ...r.left.map(l => `not ${l}`),
    ])
  const items = async () => (await w.c.get<{ rows: Item[] }>('/api/items?active=all&limit=500')).rows
  const byCode = async (code: string) => (await items()).find(i => i.code === code)!
  const stands = async (code: string, place: Place) => {
    const { places } = await w.c.get<ItemStock>(`/api/items/${(await byCode(code)).id}/stock?place=${place.id}`)
    const { levels, value } = places.find(p => p.place === place.id)!
    return [levels.onHand, levels.minimum, levels.target, value]
  }
  const state = async () =>
    JSON.stringify([await items(), await w.c.get('/api/categories'), (await w.c.get<{ rows: [] }>('/api/slips')).rows])

  it('what would come of it is told, and nothing of it is there', async () => {
    const before = await state()
    const would = await took(FILE, { place: w.lab.id, look: true })
    expect(told(would)).to.deep.equal([
      ['AGA', 'new'],
      ['SYR;5', 'new'],
      ['GLV', 'new'],
    ])
    expect(would.categories).to.deep.equal(['Media', 'Single use'])
    expect(would.openings.map(o => [o.id, o.place, o.lines])).to.deep.equal([
      [null, 'Wet lab', 2],
      [null, 'Shed', 1],
    ])
    expect(would.rows.map(r => r.id)).to.deep.equal([null, null, null])
    expect(await state()).to.equal(before)
  })

  it('they stand where the file says, in their bins and lots, at their cost; of each place by one slip', async () => {
    const taken = await took(FILE, { place: w.lab.id })
    expect(taken.openings.map(o => o.lines)).to.deep.equal([2, 1])
    expect(await stands('AGA', w.lab)).to.deep.equal(['520.5', '250', '1500', '41.64'])
    expect(await stands('AGA', shed)).to.deep.equal(['200', '100', '500', '16'])
    expect(await stands('SYR;5', w.lab)).to.deep.equal(['130', '50', '200', '15.6'])
    const agar = await byCode('AGA')
    expect([agar.category!.name, agar.unit, agar.decimals, agar.identifiedBy, agar.shelfLifeDays]).to.deep.equal([
      'Media',
      'g',
      1,
      'lot_expiry',
      730,
    ])
    expect(agar.packs.map(p => [p.name, p.size, p.codes])).to.deep.equal([['jar', '500', ['9521234000014']]])
    expect((await byCode('SYR;5')).codes).to.deep.equal(['9521234000021', '9521234000038'])
    // One category, however it is written.
    expect((await byCode('GLV')).category!.name).to.equal('Single use')
    const { rows } = await w.c.get<{ rows: LotView[] }>(`/api/items/${agar.id}/lots`)
    expect(rows.map(l => [l.code, l.expiry])).to.deep.equal([['A7', '2027-03-31']])
    expect(verify(w.app).faults).to.deep.equal([])
  })

  it('taken again it doubles nothing; what is said otherwise is changed, and an empty cell says nothing', async () => {
    const slips = async () => (await w.c.get<{ rows: [] }>('/api/slips')).rows.length
    const before = await slips()
    expect(told(await took(FILE, { place: w.lab.id }))).to.deep.equal([
      ['AGA', 'same', 'not there now'],
      ['SYR;5', 'same', 'not there now'],
      ['GLV', 'same'],
    ])
    const again =
      'code,name,category,packs,shelf life,place,minimum,target\naga,Agar agar,,jar=250; tub=5000 9521234000045,,Shed,150,\nGLV,,Rubber,,365,,,'
    expect(told(await took(again))).to.deep.equal([
      [
        'AGA',
        'changed',
        'name: Agar → Agar agar',
        'packs: jar=500 9521234000014 → jar=250 9521234000014; tub=5000 9521234000045',
        'levels in Shed: 100 to 500 → 150 to 500',
      ],
      ['GLV', 'changed', 'category: Single use → Rubber', 'shelf life:  → 365'],
    ])
    const agar = await byCode('AGA')
    expect([agar.name, agar.unit, agar.shelfLifeDays, agar.category!.name]).to.deep.equal([
      'Agar agar',
      'g',
      730,
      'Media',
    ])
    expect(agar.packs.map(p => [p.name, p.size, p.codes])).to.deep.equal([
      ['jar', '250', ['9521234000014']],
      ['tub', '5000', ['9521234000045']],
    ])
    expect(await stands('AGA', shed)).to.deep.equal(['200', '150', '500', '16'])
    expect(await slips()).to.equal(before)
    expect(verify(w.app).faults).to.deep.equal([])
  })

  it('the list of items, as it is taken out, comes back and changes nothing', async () => {
    await newItem(w.c, { code: '-5C', name: '=Freezer "bags", 5 l', packs: [{ name: 'third', size: '1/3' }] })
    await took('code,count off by,count off by %,count off by worth\n-5C,2,7.5,90')
    const csv = (await w.c.call('GET', '/api/items', undefined, { accept: 'text/csv' })).text
    expect(csv).to.include(`'=Freezer`).and.to.include('no,2,7.5,90,')
    const taken = await took(csv)
    expect(taken.rows.length).to.equal(4)
    expect(told(taken).filter(r => r[1] !== 'same')).to.deep.equal([])
  })

  it('what was copied out of a spreadsheet is read as it stands there', async () => {
    const taken = await took(
      'Code\tName\tUnit\tBarcodes\t\nHOS\tHose 5" long, black\tm\t9521234000069 9521234000076\t\n',
    )
    expect(told(taken)).to.deep.equal([['HOS', 'new']])
    const hose = await byCode('HOS')
    expect([hose.name, hose.unit, hose.codes]).to.deep.equal([
      'Hose 5" long, black',
      'm',
      ['9521234000069', '9521234000076'],
    ])
  })

  it('a dash takes away what stood there: of the item, and of where it is', async () => {
    await took(
      'code,name,unit,category,shelf life,once opened,weight,density,waste code,witness,' +
        'count off by,count off by %,count off by worth,note,place,minimum,target,bin\n' +
        'DSH,Dye,ml,Media,30,7,1.5,1.2,16 05 06,yes,2,"7,5 %",90,Keep dark,Wet lab,5,9,Shelf 1',
    )
    const put =
      'code,category,shelf life,once opened,weight,density,waste code,witness,note,count off by,count off by %,place,minimum,' +
      'target,bin\nDSH,-,-,-,-,-,-,no,-,-,4,Wet lab,-,-,-'
    expect(told(await took(put))[0]!.slice(2)).to.deep.equal([
      'category: Media → ',
      'shelf life: 30 → ',
      'once opened: 7 → ',
      'weight: 1.5 → ',
      'density: 1.2 → ',
      'waste code: 16 05 06 → ',
      'witness: yes → no',
      'note: Keep dark → ',
      'count off by: 2 → ',
      'count off by %: 7.5 → 4',
      'levels in Wet lab: 5 to 9 Wet lab, Shelf 1 → — to —',
    ])
    const dye = await byCode('DSH')
    expect([
      dye.category,
      dye.ownShelfLifeDays,
      dye.ownDaysOnceOpened,
      dye.mass,
      dye.density,
      dye.wasteCode,
      dye.witnessed,
      dye.note,
      dye.ownTolerance,
    ]).to.deep.equal([null, null, null, null, null, '', false, '', { quantity: null, percent: '4', value: '90' }])
    expect(told(await took(put))).to.deep.equal([['DSH', 'same']])
    const many = await bring('code,count off by %\nDSH,many')
    const wanted = 'Line 2: count off by %: a decimal number like "2.5", not below zero, is wanted. Nothing was taken.'
    expect([many.status, many.body.detail]).to.deep.equal([422, wanted])
    expect((await bring('code,count off by\nDSH,5 %')).status, 'so many per cent are no quantity').to.equal(422)
    await took('code,count off by %,count off by worth\nDSH,-,-')
    expect((await byCode('DSH')).ownTolerance, 'what is above it says it again').to.equal(null)
    for (const column of [
      'name',
      'unit',
      'decimals',
      'identified by',
      'cost method',
      'standard cost',
      'packs',
      'barcodes',
      'kept',
      'witness',
    ]) {
      const r = await bring(`code,${column}\nDSH,-`)
      expect([r.status, r.body.detail]).to.deep.equal([
        422,
        `Line 2: ${column}: a file does not take that away. Nothing was taken.`,
      ])
    }
  })

  it('what is out of use stays so', async () => {
    const gloves = await byCode('GLV')
    await w.c.ok('DELETE', `/api/items/${gloves.id}`, undefined, { 'if-match': String(gloves.revision) })
    expect(told(await took('code,name\nGLV,Other gloves'))).to.deep.equal([['GLV', 'retired']])
    expect((await byCode('GLV')).name).to.equal('Gloves')
  })

  it('what is wrong is told by its line, and nothing is taken', async () => {
    await newItem(w.c, { code: 'TAP', name: 'Tape', codes: ['TAPE-1'] })
    const before = await state()
    const cases: [string, string][] = [
      ['name\nAgar', 'Line 1: The first line names the columns. Known are code, name,'],
      ['code,mininum\nA,3', 'Line 1: Nobody knows the column mininum.'],
      ['code,name\n', 'There is no item in it, only the names of columns.'],
      ['code,name,unit\n,Agar,g', 'Line 2: a code is wanted.'],
      ['code,name,unit\nNEW,,g', 'Line 2: name: a name is wanted.'],
      ['code,name\nNEW,Agar', 'Line 2: In what is it counted or measured?'],
      ['code,name,unit,decimals\nNEW,Agar,g,two', 'Line 2: decimals: a number is wanted.'],
      ['code,name,unit,shelf life\nNEW,Agar,g,2 years', 'Line 2: shelf life: a number is wanted.'],
      [
        'code,name,unit,identified by\nNEW,Agar,g,colour',
        'Line 2: identified by: one of these is wanted: quantity, lot,',
      ],
      ['code,name,unit,packs\nNEW,Agar,g,jar of 500', 'Line 2: packs: a number like 12, 0.75 or 1/3 is wanted.'],
      ['code,name,unit,barcodes\nNEW,Agar,g,TAPE-1', 'Line 2: The code TAPE-1 al'],
      ['code,name,unit\nNEW,Agar,g\nNEW,Sugar,g', 'Line 3: name: “Sugar”, but line 2 says “Agar” of the same item.'],
      ['code,name,unit,minimum\nNEW,Agar,g,5', 'Line 2: a place is wanted: where is that?'],
      [
        'code,name,unit,place,minimum\nNEW,Agar,g,Attic,5',
        'Line 2: there is no place “Attic”. Make it first, under Places.',
      ],
      [
        'code,name,unit,place,minimum\nNEW,Agar,g,Shelf 1,5',
        'Line 2: there are 2 places called “Shelf 1”. Write the whole of one: ',
      ],
      ['code,name,unit,place,bin\nNEW,Agar,g,Wet lab,Shelf 2', 'Line 2: there is no bin “Shelf 2” there.'],
      [
        'code,name,unit,place,minimum,target\nNEW,Agar,g,Wet lab,9,3',
        'Line 2: target: the target is not below the minimum.',
      ],
      ['code,name,unit,place,there now\nNEW,Agar,g,Wet lab,lots', 'Line 2: “lots” is no quantity.'],
      ['code,name,unit,identified by,place,there now\nNEW,Agar,g,lot,Wet lab,5', 'Line 2: Which lot?'],
      [
        'code,name,unit,identified by,place,there now,lot,use by\nNEW,Agar,g,lot_expiry,Wet lab,5,L,soon',
        'Line 2: use by: a date like',
      ],
      [
        'code,name,unit,barcodes\nNEW,Agar,g,"9,52123E+12"',
        'Line 2: barcodes: 9,52123E+12 is how a spreadsheet shortens',
      ],
      ['code,name,unit,packs\nNEW,Agar,g,jar=500 9.52E+12', 'Line 2: packs: 9.52E+12 is how a spreadsheet shortens'],
      ['code,name,unit,barcodes\nNEW,Agar,g,B-7\nNEW2,Sugar,g,B-7', 'Line 3: The code B-7 already means Agar.'],
      [`code,name\n${'AGA,\n'.repeat(2001)}`, 'These are 2001 lines; at most 2000 come at once.'],
      [
        'code,name,unit\nNEW,Syringe, 5 ml,each\nNEW2,Agar,g,,',
        'Line 2: there are more cells than columns with a name (3).',
      ],
      ['code,name,,unit\nNEW,Agar,white,g', 'Line 2: there are more cells than columns with a name (3).'],
      ['code,name,unit,Name\nNEW,Agar,g,Sugar', 'Line 1: The column name stands twice.'],
      ['code,unit\nAGA,kg', 'Line 2: Stock has moved in g.'],
      ['code,cost method\nAGA,standard', 'Line 2: Stock lies there at what it cost.'],
      [
        `code,name,unit\n${Array.from({ length: 500 }, (_, i) => `N${i},Thing,each`).join('\n')}`,
        'These are 501 items; at most 500 come at once.',
      ],
    ]
    for (const [text, message] of cases)
      for (const look of [true, false]) {
        // What is right beside it is not taken either.
        const r = await bring(/^code,name,unit\b/.test(text) ? `${text}\n${'FINE,Fine,each'}` : text, { look })
        expect([r.status, r.body.code], text).to.deep.equal([422, 'items_not_read'])
        expect(r.body.fields[0]!.message.slice(0, message.length), text).to.equal(message)
        expect(r.body.detail).to.match(/ Nothing was taken\.$/)
      }
    expect(await state()).to.equal(before)
    const many = await bring('code,name,unit,decimals\nA1,,g,\nA2,Thing,g,x\nA3,Thing,,')
    expect(many.body.fields.map(f => f.message.slice(0, 7))).to.deep.equal(['Line 2:', 'Line 3:', 'Line 4:'])
  })

  const cost =
    'standard cost: 1.250 could be 1.25 or 1250. Say whether the file has a point or a comma before decimals.'
  const numbers: [string, string, object, string | [string, string]][] = [
    ['between commas a point stands before decimals', 'code,standard cost,target\nX,1.250,1.500', {}, ['1.25', '1.5']],
    ['… and a comma between thousands', 'code,standard cost,target\nX,"1,250","12,345.5"', {}, ['1250', '12345.5']],
    ['… but where another number shows the comma', 'code,standard cost,target\nX,"1,250","0,5"', {}, ['1.25', '0.5']],
    ['between semicolons nothing is known', 'code;standard cost;target\nX;1.250;7', {}, `Line 2: ${cost}`],
    ['… unless somebody says it', 'code;standard cost;target\nX;1.250;1,500', { decimalMark: ',' }, ['1250', '1.5']],
    ['… either way', 'code;standard cost;target\nX;1.250;1,500', { decimalMark: '.' }, ['1.25', '1500']],
    ['… or another line shows it', 'code;standard cost;target\nX;1.250;1\nX;;12,5', {}, 'Line 3: target: “12,5”, but'],
    ['… thousands twice show it too', 'code;standard cost;target\nX;1.250;1.250.000', {}, ['1250', '1250000']],
    ['… and both marks in one number', 'code;standard cost;target\nX;1.250;1.250,5', {}, ['1250', '1250.5']],
    [
      'where two numbers differ nothing is known',
      'code;standard cost;target\nX;1.250;0,5\nY;0.5;',
      {},
      `Line 2: ${cost}`,
    ],
  ]
  for (const [what, text, more, says] of numbers)
    it(`58: a file knows how it writes numbers: ${what}`, async () => {
      const [head, ...lines] = text.split('\n')
      const by = head!.includes(';') ? ';' : ','
      const whole = [
        [head, 'name', 'unit', 'decimals', 'cost method', 'place'].join(by),
        ...lines.map(l => [l, `Thing ${l[0]}`, 'g', '1', 'standard', w.lab.name].join(by)),
      ].join('\n')
      const r = await bring(whole.replaceAll('X', `X-${what.length}`), more)
      if (typeof says === 'string') {
        expect(r.status, r.text).to.equal(422)
        return expect(r.body.fields[0]!.message.slice(0, says.length)).to.equal(says)
      }
      expect(r.status, r.text).to.equal(200)
      const it1 = (await items()).find(i => i.id === r.body.rows[0]!.id)!
      expect([it1.standardCost, (await stands(it1.code, w.lab))[2]]).to.deep.equal(says)
    })

  it('58: the size of a pack is asked, and what a pack is called is left alone', async () => {
    await newItem(w.c, { code: 'BAG', name: 'Bagged', packs: [{ name: 'bag of 1.500', size: '1500' }] })
    const csv = (await w.c.call('GET', '/api/items?q=Bagged', undefined, { accept: 'text/csv' })).text
    expect(told(await took(csv))).to.deep.equal([['BAG', 'same']])
    const file = 'code;packs\nBAG;bag of 1.500=2.500'
    expect((await bring(file)).body.fields.map(f => f.message.slice(0, 45))).to.deep.equal([
      'Line 2: packs: 2.500 could be 2.5 or 2500. Sa',
    ])
    expect(told(await took(file, { decimalMark: ',' }))).to.deep.equal([
      ['BAG', 'changed', 'packs: bag of 1.500=1500 → bag of 1.500=2500'],
    ])
  })

  it('58: a list of ours is never asked: what costs 1.255 costs that when the list comes back', async () => {
    await newItem(w.c, { code: 'ODD', name: 'Odd', method: 'standard', standardCost: '1.255', mass: '12.125' })
    const csv = (await w.c.call('GET', '/api/items?q=Odd', undefined, { accept: 'text/csv' })).text
    expect(told(await took(csv))).to.deep.equal([['ODD', 'same']])
    const saved = csv.replaceAll(',', ';').replaceAll('1.255', '1,255').replaceAll('12.125', '12,125')
    const asked = await bring(saved)
    expect([asked.status, asked.body.fields.map(f => f.message.slice(8, 40))]).to.deep.equal([
      422,
      ['standard cost: 1,255 could be 1.2', 'weight: 12,125 could be 12.125 o'].map(t => t.slice(0, 32)),
    ])
    expect(told(await took(saved, { decimalMark: ',' }))).to.deep.equal([['ODD', 'same']])
  })

  it('some hundreds at once, in one slip for what lies there', async () => {
    const rows = Array.from({ length: 500 }, (_, i) => `M${i},Thing ${i},each,${w.lab.name},${i + 1},1`)
    const taken = await took(`code,name,unit,place,there now,one cost\n${rows.join('\n')}`)
    expect(taken.openings.map(o => o.lines)).to.deep.equal([500])
    expect(await stands('M499', w.lab)).to.deep.equal(['500', null, null, '500'])
    expect(verify(w.app).faults).to.deep.equal([])
  })
})
