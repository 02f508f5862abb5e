// What each kind of slip refuses of what is typed on it: at which field, and in which words, with the figures that it names.
import { expect } from 'chai'
import { v7 } from 'uuid'
import type { Item, SlipContentInput, SlipView } from '@shelve/contract'
import { newItem, world, type World } from './client.ts'

type Head = NonNullable<SlipContentInput['head']>
type Line = NonNullable<SlipContentInput['lines']>[number]
type Found = { id: string }
describe('what each kind of slip refuses', () => {
  let w: World
  const item: Record<string, Item> = {}
  const place: Record<string, string> = {}
  const slip: Record<string, SlipView> = {}
  let [job, over, centre, open] = ['', '', '', '']
  before(async () => {
    w = await world()
    const make = async (path: string, body: object) => (await w.c.ok<Found>('POST', `/api/${path}`, body)).id
    const { id: lab } = w.lab
    place.lab = lab
    place.shed = await make('places', { name: 'Shed', kind: 'area' })
    place.held = await make('places', { name: 'Held', kind: 'held' })
    place.bin = await make('places', { name: 'B1', parent: lab })
    item.gloves = await newItem(w.c, { name: 'Gloves' })
    item.tongs = await newItem(w.c, { name: 'Tongs' })
    item.probe = await newItem(w.c, { name: 'Probe', identifiedBy: 'serial' })
    const bottled = { decimals: 3, identifiedBy: 'lot_expiry' as const, packs: [{ name: 'bottle', size: '2' }] }
    item.acid = await newItem(w.c, { name: 'Acid', unit: 'L', density: '1.2', ...bottled })
    item.dye = await newItem(w.c, { name: 'Dye', unit: 'L', ...bottled })
    item.salve = await newItem(w.c, { name: 'Salve' })
    item.tape = await newItem(w.c, { name: 'Tape' })
    job = await make('jobs', { code: 'J', name: 'Run' })
    over = await make('jobs', { place: lab, name: 'Old run', lines: [{ id: v7(), item: item.gloves.id, typed: '1' }] })
    await w.c.ok('POST', `/api/jobs/${over}/state`, { state: 'dropped' })
    centre = await make('cost-centres', { code: 'WAT', name: 'Water' })
    const lots = (code: string, typed: string, to: string) => ({
      typed,
      price: '5',
      to,
      lot: { code, expiry: '2027-01-31' },
    })
    for (const where of [lab, place.shed])
      await w.c.must({
        kind: 'receipt',
        place: where,
        head: { supplier: 'Quillfern' },
        lines: [
          line('gloves', { typed: '11', price: '3' }),
          line('tongs', { typed: '3', price: '2' }),
          ...(where === lab
            ? [
                line('acid', lots('A1', '3', lab)),
                line('acid', lots('A1', '1', place.bin)),
                line('dye', lots('D1', '4', lab)),
                line('probe', { typed: '1', price: '9', lot: { code: 'P1' } }),
              ]
            : []),
        ],
      })
    w.clock.now += 60_000
    const of = async (kind: SlipContentInput['kind'], head: Head, lines: Line[], where = lab) =>
      w.c.must({ kind, place: where, head, lines })
    slip.issue = await of('issue', { job }, [line('gloves', { typed: '3' })])
    slip.elsewhere = await of('issue', { job }, [line('tongs', { typed: '1' })], place.shed)
    slip.sent = await of('dispatch', { towards: place.shed }, [line('tongs', { typed: '2' })])
    slip.undone = await of('make', {}, [line('tape', { typed: '1', side: 'out' }), line('gloves', { typed: '1' })])
    await w.c.ok('POST', `/api/slips/${slip.undone.id}/reversal`, { id: v7() })
    slip.made = await of('make', { job }, [line('salve', { typed: '1', side: 'out' }), line('gloves', { typed: '1' })])
    await of('relabel', {}, [line('acid', { typed: '0.5', from: lab, opened: { code: 'OPEN', useBy: null } })])
    const { rows } = await w.c.get<{ rows: (Found & { code: string })[] }>(`/api/items/${item.acid.id}/lots`)
    open = rows.find(l => l.code === 'OPEN')!.id
    await w.c.ok('DELETE', `/api/items/${item.tape.id}`)
    w.clock.now += 60_000
  })
  after(() => w.stop())
  const line = (of: string | null, more: Partial<Line> = {}): Line => w.c.line({ item: of && item[of]!.id, ...more })
  const parts = (...of: [object, string][]) => ({ among: of.map(([who, percent]) => ({ ...who, percent })) })
  const first = (of: string) => slip[of]!.lines[0]!.id
  const full = (opened: Partial<NonNullable<Line['opened']>>, of = 'acid', more: Partial<Line> = {}) => [
    line(of, { typed: '1 bottle', opened: { code: '', useBy: null, ...opened }, ...more }),
  ]

  const two = () => [line('gloves', { typed: '2' })]
  const one = (of: string | null, more: Partial<Line> = {}) => [line(of, { typed: '1', ...more })]
  const made = (more: Partial<Line> = {}, of = 'tongs') => [...one('gloves'), ...one(of, { side: 'out', ...more })]
  const J = () => ({ job })
  const W = () => ({ costCentre: centre })
  const none = () => ({})
  const sent = (of: string) => () => ({ sent: slip[of]!.id })

  // Each by what is typed, and what is said of it: line, field, code, and the words and figures that it names.
  type Row = readonly [title: string, head: () => Head, lines: () => Line[], said: string, at?: string | null]
  const table: Record<string, readonly Row[]> = {
    issue: [
      ['several, and a job', () => ({ job, ...parts([J(), '50'], [W(), '50']) }), two, 'among among_or_one'],
      ['several, and one', () => ({ ...W(), ...parts([J(), '50'], [W(), '50']) }), two, 'among among_or_one'],
      ['one twice', () => parts([J(), '50'], [J(), '50']), two, 'among among_twice'],
      ['99 of 100', () => parts([J(), '50'], [W(), '49']), two, 'among among_not_whole 99'],
      ['no part', () => parts([J(), '50'], [W(), ' x ']), two, 'among not_a_part x'],
      ['a part of nobody', () => parts([J(), '50'], [{}, '50']), two, 'among for_whom'],
      ['a part of one over', () => parts([J(), '50'], [{ job: over }, '50']), two, 'among for_whom_ended Old run'],
      ['a line for one over', J, () => one('gloves', { direct: { job: over } }), '0 direct for_whom_ended Old run'],
      ['5 left of 7, 3 taken', J, () => one('gloves', { typed: '3', leaves: '5' }), '0 typed left_otherwise 7'],
      ['5 left of 7, 2 taken', J, () => one('gloves', { typed: '2', leaves: '5' }), ''],
      ['of two bins, and left', J, () => one('acid', { typed: '3', leaves: '0' }), '0 typed left_otherwise 0.5'],
    ],
    bring_back: [
      ['of what was not handed out', J, () => one(null, { ref: first('sent') }), '0 ref nothing_to_bring_back'],
      ['4 of 3', J, () => one('gloves', { typed: '4', ref: first('issue') }), '0 typed more_than_issued 4 3'],
      ['3 of 3', J, () => one('gloves', { typed: '3', ref: first('issue') }), ''],
      ['of a job that has none', J, () => one('dye'), '0 typed more_than_issued 1 0'],
      ['of nobody', none, () => one('gloves'), 'costCentre for_whom'],
    ],
    recharge: [
      ['of no line', W, () => one('gloves'), '0 ref unknown_line'],
      ['from elsewhere', W, () => one('tongs', { ref: first('elsewhere') }), '0 ref issued_elsewhere Shed'],
      ['not handed out', W, () => one('tongs', { ref: first('sent') }), '0 ref nothing_to_bring_back'],
      ['theirs already', J, () => one('gloves', { ref: first('issue') }), '0 costCentre charged_there'],
      ['7 of 3', W, () => one('gloves', { typed: '7', ref: first('issue') }), '0 typed more_than_issued 7 3'],
      ['3 of 3', W, () => one('gloves', { typed: '3', ref: first('issue') }), ''],
    ],
    make: [
      ['nothing', none, two, 'lines makes_nothing'],
      ['no share', none, () => made({ share: 'x' }), '1 share not_a_share x'],
      ['shares of nothing', none, () => made({ share: '0' }), '1 share no_share'],
      ['what is retired', none, () => made({}, 'tape'), '1 item item_retired Tape'],
      ['for a job that is over', () => ({ job: over }), made, 'job for_whom_ended Old run'],
      ['no sum beside', () => ({ extra: 'x' }), made, 'extra not_a_price x'],
      ['in place of no make', () => ({ corrects: slip.issue!.id }), made, 'corrects no_make'],
      ['in place of what is undone', () => ({ corrects: slip.undone!.id }), made, 'corrects nothing_to_correct'],
      ['in place of one for what is over', () => ({ job: over, corrects: slip.made!.id }), made, ''],
      [
        'too much goes in',
        none,
        () => [...made(), ...one('dye', { typed: '9' })],
        '2 typed insufficient_stock 9 5 Wet lab 4 0 0',
      ],
    ],
    relabel: [
      ['with a number of its own', none, () => one('probe'), '0 item serial_opened Probe'],
      ['without lots', none, () => one('gloves'), '0 item containers_need_lots Gloves'],
      ['open already', none, () => one('acid', { lot: { id: open, code: 'OPEN' } }), '0 lot opened_already OPEN'],
      ['two at once', none, () => one('acid', { typed: ' 2 bottle ' }), '0 typed one_container 2 bottle bottle'],
      ['of two bins', none, () => one('acid', { typed: '3' }), '0 typed container_is_one A1 Wet lab 2.5'],
      ['too much', none, () => one('acid', { typed: '9' }), '0 typed insufficient_stock 9 5.5 Wet lab 3.5 0 0'],
      ['a name that is taken', none, () => full({ code: ' OPEN ' }), '0 opened container_exists OPEN A1'],
      ['longer than closed', none, () => full({ useBy: '2027-02-01' }), '0 opened opened_keeps_longer 2027-01-31 A1'],
      ['as long as closed', none, () => full({ useBy: '2027-01-31' }), ''],
      ['over already', none, () => full({ useBy: '2026-11-24' }), '0 opened opened_too_late'],
      ['to be used today', none, () => full({ useBy: '2026-11-25' }), ''],
      ['no weight', none, () => full({ weight: ' heavy ' }), '0 opened not_a_weight heavy'],
      [
        'lighter than its content',
        none,
        () => full({ weight: '2399 g', weighed: 'full' }),
        '0 opened lighter_than_content Acid 2.399 kg',
      ],
      ['as heavy as its content', none, () => full({ weight: '2400 g', weighed: 'full' }), ''],
      ['not weighed', none, () => full({ weight: '3 kg', weighed: 'full' }, 'dye'), '0 opened not_by_weight Dye'],
    ],
    dispatch: [
      ['from nowhere', () => ({ towards: place.shed! }), two, 'place place_needed', null],
      ['to nowhere', none, two, 'towards where_to'],
      ['to what is held', () => ({ towards: place.held! }), two, 'towards no_goal Held'],
      ['into itself', () => ({ towards: place.bin! }), two, 'towards not_away Wet lab, B1'],
      ['out of itself', () => ({ towards: place.lab! }), () => one('acid'), 'towards not_away Wet lab', 'bin'],
      ['due before it leaves', () => ({ towards: place.shed!, due: '2026-11-24' }), two, 'due due_before'],
      ['due today', () => ({ towards: place.shed!, due: '2026-11-25' }), two, ''],
    ],
    arrival: [
      ['of nothing sent', none, () => one('tongs'), 'sent not_sent', 'shed'],
      ['of what sent nothing', sent('issue'), () => one('tongs'), 'sent not_sent', 'shed'],
      ['nothing of it', sent('sent'), () => one('tongs', { asked: '2', typed: ' ' }), 'lines nothing_arrived', 'shed'],
      ['3 of 2', sent('sent'), () => one('tongs', { typed: '3' }), '0 typed not_on_the_way 2 DP-0001', 'shed'],
      ['2 of 2', sent('sent'), () => one('tongs', { typed: '2' }), '', 'shed'],
    ],
  }
  for (const [kind, rows] of Object.entries(table))
    for (const [title, head, lines, said, at = 'lab'] of rows)
      it(`${kind}: ${title}`, async () => {
        const content = { kind, place: at && place[at]!, head: head(), lines: lines() } as SlipContentInput
        const { refusals } = await w.c.effect(content)
        const names = (d: Record<string, unknown>) =>
          Object.keys(d)
            .filter(k => typeof d[k] === 'string' && k !== 'unit' && k !== 'place')
            .sort()
            .map(k => ` ${d[k] as string}`)
        const told = refusals.map(r => {
          const line = r.line === null ? '' : `${content.lines!.findIndex(l => l.id === r.line)} `
          return `${line}${r.field} ${r.code}${names(r.detail ?? {}).join('')}`
        })
        expect(told).to.deep.equal(said ? [said] : [])
      })
})
