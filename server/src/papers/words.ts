import { decimal, formatDecimal, type Refusal, refuse, type Typed, writtenInstant } from '@shelve/core'
import type { Base } from './base.ts'

type D = Record<string, unknown>

const text = (x: unknown): string => (x === null || x === undefined ? '' : String(x))

/** What each refusal says: what is so, and what can be done. `place` and `lot` numbers are named by the caller. */
const WORDS: Record<string, (d: D) => string> = {
  no_lines: () => 'There is nothing on this slip yet. Scan or type what it is about.',
  nothing_picked: () => 'Nothing is taken yet. Scan or type what you take; what is left out stays where it is.',
  nothing_counted: () => 'Nothing is counted yet. A line that was not counted stays as it is.',
  item_needed: () => 'Which item is this line about?',
  unknown_item: () => 'There is no such item. Scan it again, or make it a new item.',
  item_retired: d =>
    `${text(d.name)} is retired: nothing new of it comes in. Take it into use again in Set-up, or choose another item.`,
  quantity_empty: () => 'How much? Type a number, like 24 or 2 case + 3.',
  quantity_not_a_quantity: d =>
    `“${text(d.typed)}” is no quantity. Type a number, with a unit if you like: 24, 2 case + 3, 1.5 kg, 3*12.`,
  quantity_negative: d =>
    `“${text(d.typed)}” is below zero. Type what is there or what moves; to undo a slip, take it back.`,
  quantity_zero: () => 'Zero moves nothing. Type how much, or remove the line.',
  quantity_other_dimension: d =>
    `${text(d.unit)} is not something this item is measured in (it is counted in ${text(d.base)}).`,
  not_positive: () => 'More than zero is wanted.',
  too_large: d =>
    `${text(d.typed ?? d.given)} is more than Shelve takes (a thousand million). Is it a slip of the keyboard?`,
  too_many_decimals: d =>
    Array.isArray(d.nearest)
      ? `${text(d.typed)} does not fit: this item is kept with ${text(d.decimals)} decimals. ` +
        `Nearest are ${text(d.nearest[0])} and ${text(d.nearest[1])}.`
      : `This item is kept with ${text(d.decimals)} decimals.`,
  ambiguous: d =>
    `${text(d.typed)} could be ${text((d.choices as string[])[0])} or ${text((d.choices as string[])[1])}. Which one?`,
  unknown_unit: d =>
    `This item does not come in “${text(d.unit)}”. It comes in ${(d.known as string[] | undefined)?.join(', ')}.`,
  not_stocked: () => 'This is a charge: it never lies on a shelf.',
  bought_for_someone: () => 'This item is bought for someone: receive it straight to them.',
  not_a_price: d =>
    `“${text(d.given)}” is no price. Type digits with a point or a comma, or leave it empty and price it later.`,
  price_out_of_range: d => `${text(d.given)} cannot be a price.`,
  discount_too_large: () => 'The discount is larger than the price.',
  credit_needed: () => 'What does the supplier credit for it? Type 0 if nothing.',
  supplier_needed: () => 'Which supplier is it? Type the name.',
  for_whom: () => 'Who or what is it for? Choose a job or a cost centre.',
  among_or_one: () => 'It is for one, or for several: take one of the two off.',
  among_twice: () => 'The same stands there twice: one part for each is enough.',
  among_not_whole: d => `The parts add up to ${text(d.sum)} %, and not to 100 %. Change one of them.`,
  not_a_part: d =>
    d.given
      ? `${text(d.given)} is no part of it: type a number above 0 and up to 100.`
      : 'For which part of it is each? Type it in per cent.',
  for_whom_ended: d => `${text(d.name)} is not in use any more. Choose another, or take it into use again in Set-up.`,
  takes_reserved: d =>
    `${text(d.quantity)}${d.unit === 'each' ? '' : ` ${text(d.unit)}`} of this is set aside ` +
    `for ${text(d.name)} (${text(d.job)}). Take less, or take it all the same: that job lacks it then.`,
  makes_nothing: () => 'What comes of it? Say what was made, and how much.',
  no_make: () => 'There is no such make to put right.',
  not_a_share: d => `“${text(d.given)}” is no part of the cost. Type 0 or more, like 5 or 0.25; nothing is 1.`,
  no_share: () => 'Something of it must bear the cost: type a part above 0 for one of them.',
  reason_ended: d => `The reason ${text(d.name)} is not in use any more. Choose another.`,
  reason_needed: () => 'Why is it wasted? Choose a reason.',
  place_needed: () => 'Where? Choose a place at the top left, or on the line.',
  unknown_place: () => 'There is no such place.',
  on_the_way: d => `${text(d.placeName)} is still on its way: book its arrival first, or say that it is lost.`,
  where_to: () => 'Where does it go? Choose the place that it is sent to.',
  no_goal: d => `Nothing can be sent to ${text(d.placeName)}: choose an area or a bin.`,
  not_away: d => `${text(d.placeName)} is here already: move it there instead, nothing has to travel.`,
  due_before: () => 'It cannot be there before it is sent. Choose the day on which it is to arrive, or none.',
  not_sent: () => 'Of which slip did this arrive? Open what is on its way, and say there what has come.',
  not_on_the_way: d =>
    d.left === '0'
      ? `Nothing of this is on its way any more by ${text(d.number)}.`
      : `Only ${text(d.left)} ${text(d.unit)} of this are still on their way by ${text(d.number)}. ` +
        'Book those; count what lies there more than was sent.',
  more_than_sent: d =>
    `Only ${text(d.left)} ${text(d.unit)} of this are on the way. What is there beyond that is counted where it arrives.`,
  nothing_arrived: () => 'Nothing has arrived yet. Type or scan what has come; what is left out stays on its way.',
  left_otherwise: d =>
    `${text(d.there)} ${text(d.unit)} are in it by the books: somebody used of it meanwhile. Weigh it, or read it off, once more.`,
  already_there: d =>
    `${text(d.already)} ${text(d.unit)} lie in ${text(d.placeName)} already, ` +
    `${d.others === '0' ? 'none' : `only ${text(d.others)}`} outside it. ` +
    'Choose another place, or less.',
  not_your_place: d =>
    `You may not book ${d.placeName ? `in ${text(d.placeName)}` : 'there'}. Ask a manager, or whoever keeps it.`,
  same_place: () => 'It is there already: from and to are the same place.',
  lot_needed: () => 'Which lot? It stands on the package.',
  serial_needed: () => 'Which serial number? It stands on the thing.',
  expiry_needed: () => 'When does this lot expire? The date stands beside the lot.',
  expiry_differs: d =>
    `Lot ${text(d.lot)} is here with expiry ${text(d.known)}, this says ${text(d.given)}. ` +
    'Look at the package again; if it is another lot, its code must differ.',
  item_without_lots: d =>
    `This item is kept without lots, so ${text(d.lot)} has no place. Remove the lot, or change in Set-up how the item is identified.`,
  lot_of_another_item: () => 'That lot belongs to another item.',
  lot_not_usable: d =>
    `Lot ${text(d.lot)} is ${d.state === 'expired' ? `expired since ${text(d.expiry)}` : text(d.state)}. ` +
    'Take another lot, record it as waste, or have a manager override it with a reason.',
  containers_need_lots: d =>
    `${text(d.name)} is kept without lots, so an opened container cannot be told from the others. ` +
    'Change in Set-up how it is identified.',
  serial_opened: () => 'A serial number is one thing already: hand it out as it is.',
  opened_already: d => `${text(d.lot)} is open already. Take from it as it is.`,
  container_is_one: d =>
    `One container comes from one lot and one bin: only ${text(d.there)} ${text(d.unit)} of ${text(d.lot)} lie in ` +
    `${text(d.placeName)}. Open two, each on a line of its own.`,
  one_container: d =>
    `Each ${text(d.pack)} is a container of its own: type 1 here, and open the next one on another line.`,
  container_exists: d =>
    `A container of ${text(d.lot)} is called ${text(d.code)} already. Choose another name, or leave it empty.`,
  opened_keeps_longer: d =>
    `Opened it does not keep longer than its package says: lot ${text(d.lot)} is good until ${text(d.expiry)}.`,
  opened_too_late: () => 'That day is over: it could not be used any more.',
  not_a_weight: d => `${text(d.given)} is no weight. Type one like 85 g, or 0.85 kg.`,
  not_by_weight: d =>
    `${text(d.name)} is kept in ${text(d.unit)}, and its density is not known: what is in it cannot be weighed. ` +
    'Leave the weight out, or add the density in Set-up.',
  lighter_than_content: d =>
    `${text(d.weight)} is less than what is in it weighs. Weigh ${text(d.name)} again, or say how much is in it.`,
  serial_is_one: () => 'A serial number is one thing: the quantity is 1.',
  serial_already_here: d =>
    `${text(d.serial)} is already here, in ${text(d.placeName)}. If it was moved, move it instead.`,
  serial_twice: d => `${text(d.serial)} stands on this slip twice.`,
  wrong_accounts: () => 'A slip of this kind cannot do that.',
  insufficient_stock: d => insufficient(d),
  count_again: () =>
    'So little was there at that minute that what was taken since would not have been possible. Count this line again now.',
  count_twice: () => `That differs much from the books. Count it once more and type the second figure.`,
  counts_differ: d =>
    `First ${text(d.first)}, then ${text(d.second)}. Count a third time and type the same figure in both.`,
  counters_differ: d => {
    const counts = d.counts as { by: string; counted: string | null }[]
    const said = counts.map(c => (c.counted === null ? c.by : `${c.by} counted ${c.counted}`)).join(', ')
    return counts[0]?.counted === null
      ? `${said.replace(/, ([^,]*)$/, ' and $1')} do not agree. One more count settles it, or take off the one that is wrong.`
      : `${said}. One more count settles it, or take off the one that is wrong.`
  },
  sheet_entered: d => text(d.text),
  sheet_older: d => text(d.text),
  unknown_group: () =>
    'There is no such group of items in this place. Choose the group again, or count the whole area.',
  unknown_rest: () => 'What this count was to complete is no booked count of this place. Begin a sheet anew.',
  second_counter: () =>
    'This sheet is counted by two: somebody else counts this line too, without seeing the first figure.',
  closed_for_counting: d =>
    `${text(d.placeName)} is closed for counting since ${text(d.sinceText)}, by ${text(d.by)}. ` +
    'Book it when it is open again; what happened before it was closed can be dated so.',
  unknown_sheet: () => 'There is no such sheet. Count without one.',
  before_printing: d => `That is before sheet ${text(d.sheet)} was printed. Look at the time that stands on the page.`,
  nothing_to_tally: () => 'There is none of it, and the books know of none either: there is nothing to book.',
  counted_twice: () => 'This line is counted twice at the same minute.',
  cost_asked: () =>
    'More was found than the books know of, and nothing is known of its cost. What is one worth? Type 0 if nothing.',
  in_the_future: () => 'That is in the future. A slip happened now or before.',
  month_closed: d => `That month is closed. The first day still open is ${text(d.openDay)}.`,
  not_a_time: () => 'That is no date and time.',
  basis_zero: () =>
    'There is nothing to spread the freight by: no line has a price. Spread it by quantity, or type prices.',
  basis_mixed: () => 'The lines are in different units, so freight cannot be spread by quantity. Spread it by value.',
  basis_unknown: () => 'The weight of some item is not known. Spread the freight by value, or add weights in Set-up.',
  unknown_line: () => 'There is no such line on that slip.',
  nothing_to_correct: () => 'This line was taken back already, or there is nothing of it left.',
  nothing_to_bring_back: () => 'Nothing that was issued is left to bring back.',
  witness_wanted: d =>
    d.name
      ? `The slip says something else since ${text(d.name)} showed that they were there: once more, now that it is as it stays.`
      : `Two throw away ${text(d.items)}: somebody else who was there shows it by badge or PIN.`,
  over_budget: d =>
    `With this, ${text(d.name)} would have used ${text(d.percent)} % of its budget of the year, ` +
    `and beyond ${text(d.stop)} % nothing more is charged to it. ` +
    'Charge somebody else, or have a manager book it with a reason.',
  charged_there: () => 'It is charged there already. Choose somebody else.',
  issued_elsewhere: d =>
    `That was handed out ${d.placeName ? `in ${text(d.placeName)}` : 'elsewhere'}: charge it to somebody else there.`,
  more_than_issued: d => `Only ${text(d.free)} ${text(d.unit)} were issued and not brought back yet.`,
  brought_back: d =>
    `Part of this was brought back already; ${text(d.free)} can still be taken back. Take back the return first.`,
  more_than_booked: d => `Only ${text(d.free)} of this line are left to take back.`,
  invoice_needed: d =>
    `An invoice was booked for ${text(d.quantity)} of it: ` +
    'say the price of what stands instead, and the amount that the invoice states for that.',
  invoiced: () => 'An invoice was booked for this line: take back all of it, not a part.',
  would_have_been_missing: d =>
    `What this slip changes was used since, on ${text(d.slipNumber)}. Correct that slip first.`,
  no_such_difference: () => 'There is no such open difference.',
  already_closed: () => 'This difference is closed. Take its closing back first.',
  more_than_open: d => `Only ${text(d.open)} are still missing.`,
  nothing_open: () => 'Nothing is open here any more.',
  found_again: () => 'Something was found for this count since. Take that slip back first.',
  has_no_price: () => 'This line has no price of its own.',
  replace_whole: d =>
    d.kind === 'make'
      ? 'What was made is put right as a whole: make it anew in its place.'
      : 'This line can only be taken back as a whole.',
  act_needed: () => 'What becomes of this line: taken back, replaced, another price, or an invoice that names more?',
  nothing_instead: () => 'What was true instead?',
  method_needed: () => 'Which cost method is wanted?',
  only_now: () => 'A cost method is changed now, not on another day.',
  same_method: () => 'It is costed by that method already.',
  standard_needed: () => 'What does one cost, by the standard that is set?',
  nothing_lies: d => `Nothing lies anywhere of ${text(d.name)}: save the other method with the item itself.`,
  before_method_change: d =>
    `The cost method was changed since${d.sinceText ? ` (${text(d.sinceText)})` : ''}: ` +
    'quantities before that stay as they are. Count what is there now, or put the price right.',
  refers_to_later: () => 'A line cannot refer to something that came after it.',
}

function insufficient(d: D): string {
  const unit = text(d.unit)
  const elsewhere = d.elsewhereNames as { name: string; quantity: string }[] | undefined
  const where = elsewhere?.length
    ? ` ${elsewhere
        .slice(0, 3)
        .map(e => `${e.quantity} lie in ${e.name}`)
        .join(', ')}.`
    : ''
  const locked = d.unusable && d.unusable !== '0' ? ` ${text(d.unusable)} more are expired or held.` : ''
  const travels = d.travels && d.travels !== '0' ? ` ${text(d.travels)} are on their way.` : ''
  const earliest = d.earliestText ? ` It would fit from ${text(d.earliestText)} on.` : ''
  const lot = d.chosenLot ? ' of this lot' : ''
  const here = d.placeName ? ` in ${text(d.placeName)}` : ''
  const first = `${text(d.asked)} ${unit} asked, ${text(d.there)} there${lot}${here}.`
  return `${first}${locked}${where}${travels}${earliest}`.replace(/\s+/g, ' ')
}

/** Amounts leave as decimal strings. */
const plain = (x: unknown): unknown => (typeof x === 'bigint' ? formatDecimal(x) : Array.isArray(x) ? x.map(plain) : x)

/** A refusal in words, with places and lots by name. */
export function wordRefusal(
  house: Base,
  r: Refusal,
  unitOf: (lineId: string | null) => string,
): { code: string; message: string; field: string | null; detail: D } {
  const d: D = { ...r.detail }
  if (typeof d.place === 'number') {
    d.placeName = house.places.name(d.place)
    d.place = house.places.row(d.place)?.uid ?? null
  }
  if (typeof d.item === 'number') delete d.item
  if (typeof d.lot === 'number') d.lot = house.rows.lotById.get({ id: d.lot })?.code ?? null
  if (typeof d.earliest === 'number') d.earliestText = writtenInstant(d.earliest, house.organisation!)
  if (typeof d.since === 'number') d.sinceText = house.today(d.since)
  if (typeof d.openFrom === 'number') d.openDay = house.today(d.openFrom)
  if (typeof d.slip === 'number') {
    const s = house.rows.slipById.get({ id: d.slip })
    d.slipNumber = s?.number ?? 'a later slip'
    d.slip = s?.uid ?? null
  }
  if (Array.isArray(d.elsewhere)) {
    const byName = new Map<string, bigint>()
    for (const e of d.elsewhere as { place: number; quantity: string }[]) {
      const n = house.places.name(house.places.area(e.place))
      byName.set(n, (byName.get(n) ?? 0n) + decimal(e.quantity))
    }
    d.elsewhereNames = [...byName].map(([name, q]) => ({ name, quantity: formatDecimal(q) }))
    d.elsewhere = (d.elsewhere as { place: number; quantity: string }[]).map(e => ({
      place: house.places.row(e.place)?.uid ?? null,
      quantity: e.quantity,
    }))
  }
  if (Array.isArray(d.inLots))
    d.inLots = (d.inLots as { lot: string | null; place: number; quantity: string; usable: boolean }[]).map(l => ({
      ...l,
      place: house.places.name(l.place),
    }))
  d.unit ??= unitOf(r.lineId)
  delete d.line
  for (const [key, value] of Object.entries(d)) d[key] = plain(value)
  return {
    code: r.code,
    field: r.field,
    detail: d,
    message: (WORDS[r.code] ?? (() => `This was refused (${r.code}).`))(d),
  }
}

/** What is refused where a quantity cannot be read: with what was typed and what is possible. `unit` is the item's own. */
export function quantityRefusal(read: Extract<Typed, { ok: false }>, typed: string, unit: string): Refusal {
  const { ok: _, code, ...detail } = read
  const own = code === 'too_many_decimals' || code === 'too_large' || code === 'ambiguous' || code === 'unknown_unit'
  return refuse(own ? code : `quantity_${code}`, null, 'typed', { typed, unit, ...detail })
}

export const hasWords = (code: string): boolean => code in WORDS
