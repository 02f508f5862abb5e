// How many actions the daily tasks take, from Today until it is booked: a click, a field, a key, a scan each count one.
// docs/actions.md is written from it: ACTIONS=anew npx playwright test --config e2e/playwright.config.ts actions
import { readFileSync, writeFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import type { Locator, Page } from '@playwright/test'
import { expect, isFor, item, scan, signIn, test, verified } from './stage.ts'

const DOC = fileURLToPath(new URL('../docs/actions.md', import.meta.url))
type How = 'mouse' | 'keyboard' | 'scanner'
/** By task, how many actions were taken by each way of working; the goal beside. */
const counted = new Map<string, Partial<Record<How, number>>>()

/** One pair of hands, whose every action counts. */
class Hands {
  n = 0
  constructor(readonly page: Page) {}
  async click(what: Locator) {
    this.n++
    await what.click()
  }
  async field(what: Locator, text: string) {
    this.n++
    await what.fill(text)
  }
  /** Types into whatever has the focus, as the keyboard does: one field. */
  async type(text: string) {
    this.n++
    await this.page.keyboard.type(text, { delay: 60 })
  }
  async key(key: string) {
    this.n++
    await this.page.keyboard.press(key)
  }
  async scan(code: string) {
    this.n++
    await scan(this.page, code)
  }
  async choose(what: Locator, label: string) {
    this.n++
    await what.selectOption({ label })
  }
}
const goals: Record<string, Partial<Record<How, number>>> = {
  'a delivery of six lines, two of them with lots': { mouse: 20, keyboard: 32, scanner: 12 },
  'the same, one of them in two lots': { mouse: 24, keyboard: 38, scanner: 14 },
  'an issue of three things': { mouse: 8, keyboard: 14, scanner: 6 },
  'a move of four things': { mouse: 10, keyboard: 18, scanner: 8 },
  'one broken thing': { mouse: 4, keyboard: 6, scanner: 3 },
  'a count of forty, three off, with figures': { mouse: 12 },
  'six prices that came late': { mouse: 9 },
  'a wrong item put right': { mouse: 5 },
  'part of an issue brought back': { mouse: 4, keyboard: 9, scanner: 4 },
  'what was missing is found': { mouse: 3, scanner: 2 },
  'last month by category': { mouse: 3 },
  'what lay there at the month’s end, by category': { mouse: 3 },
  'sheets for two areas': { mouse: 5 },
}
/** Counts a task done one way, and holds it against its goal. */
const took = (task: string, how: How, hands: Hands) => {
  counted.set(task, { ...counted.get(task), [how]: hands.n })
  expect(hands.n, `${task}, by ${how}`).toBeLessThanOrEqual(goals[task]?.[how] ?? Infinity)
  hands.n = 0
}
const booked = (page: Page, what: RegExp) => expect(page.getByText(what).first()).toBeVisible()
const today = async (page: Page, url: string) => {
  await page.goto(url)
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
}

/** A GS1 code as it stands on a box with a lot. */
const gs1 = (code: string, lot: string) => `01${code.padStart(14, '0')}17270630` + `10${lot}`

test('deliveries, issues, moves and waste take no more actions than they must', async ({ page, demo }) => {
  await signIn(page, demo, 'ines', 'Wet lab')
  const hands = new Hands(page)
  const name = async (code: string) => ((await item(page, demo, code)) as unknown as { name: string }).name
  const ean = async (code: string) => (await item(page, demo, code)).codes[0]!
  const own = async (path: string, of: string) => {
    const { rows } = (await (await page.request.get(`${demo.url}/api/${path}`)).json()) as {
      rows: { name: string; own: string }[]
    }
    return rows.find(r => r.name === of)!.own
  }
  const option = (of: string) => page.getByRole('option', { name: of }).first()
  const box = () => page.locator('[data-add] input')
  const oftenHere = page.getByRole('group', { name: 'Often written here' })
  const often = (of: string) => oftenHere.getByRole('button', { name: of })
  const PLAIN = ['GLV-M', 'GLV-L', 'PIP-200', 'WIP-D']
  const LOTS = ['AGR-M', 'AGR-N']
  const begin = () => today(page, demo.url)

  // Deliveries: six lines of one pack each but the first, which is twelve boxes; two have lots.
  for (const second of [false, true]) {
    const task = second ? 'the same, one of them in two lots' : 'a delivery of six lines, two of them with lots'
    const lotOf = (n: string) => page.getByLabel(`Lot of ${n}`)
    await begin()
    await hands.click(page.getByRole('link', { name: 'Receive' }))
    await hands.field(page.getByLabel('Supplier'), 'Quillfern')
    for (const [i, code] of [...PLAIN, ...LOTS].entries()) {
      const n = await name(code)
      await hands.field(box(), code)
      await hands.click(option(n))
      if (i === 0) await hands.field(page.getByLabel(`Arrived: ${n}`), '12')
      if (LOTS.includes(code)) {
        await hands.field(lotOf(n).last(), `M${Number(second)}${i}`)
        await hands.field(page.getByLabel(`Use by date of ${n}`).last(), '30 6 2027')
      }
    }
    if (second) {
      const n = await name('AGR-N')
      await hands.click(page.getByRole('button', { name: 'another lot' }).last())
      await hands.field(page.getByLabel(`Arrived: ${n}`).last(), '3')
      await hands.field(lotOf(n).last(), 'M19')
      await hands.field(page.getByLabel(`Use by date of ${n}`).last(), '31 7 2027')
    }
    await hands.click(page.getByRole('button', { name: second ? 'Book 7 lines' : 'Book 6 lines' }))
    await booked(page, /RC-\d+ is booked/)
    took(task, 'mouse', hands)

    await begin()
    await hands.key('Alt+2')
    await expect(page.getByLabel('Supplier')).toBeFocused()
    await hands.type('Quillfern')
    await hands.key('Enter')
    for (const [i, code] of [...PLAIN, ...LOTS].entries()) {
      await expect(box()).toBeFocused()
      await hands.type(code)
      await expect(option(await name(code))).toBeVisible()
      await hands.key('Enter')
      await expect(page.getByLabel(`Arrived: ${await name(code)}`).last()).toBeFocused()
      if (i === 0) await hands.type('12')
      await hands.key('Enter')
      if (!LOTS.includes(code)) continue
      await hands.type(`K${Number(second)}${i}`)
      await hands.key('Enter')
      await hands.type('30 6 2027')
      const more = second && code === 'AGR-N'
      await hands.key(more ? 'Shift+Enter' : 'Enter')
      if (!more) continue
      await hands.type('3')
      await hands.key('Enter')
      await hands.type('K19')
      await hands.key('Enter')
      await hands.type('31 7 2027')
      await hands.key('Enter')
    }
    await hands.key('Control+Enter')
    await booked(page, /RC-\d+ is booked/)
    took(task, 'keyboard', hands)

    await begin()
    await hands.scan(await own('suppliers', 'Quillfern'))
    await hands.scan(await ean('GLV-M'))
    for (const digit of '12') await hands.scan(`SVC-${digit}`)
    for (const code of PLAIN.slice(1)) await hands.scan(await ean(code))
    for (const code of LOTS) await hands.scan(gs1(await ean(code), `S${Number(second)}`))
    if (second) await hands.scan(gs1(await ean('AGR-N'), 'S9'))
    await hands.scan('SVC-BOOK')
    await booked(page, /RC-\d+ is booked/)
    took(task, 'scanner', hands)
  }

  // Three things to a job, one of each; by mouse from what the job often takes.
  await begin()
  await hands.click(page.getByRole('link', { name: 'Issue', exact: true }))
  await hands.field(page.getByLabel(/^For/), 'Nitrate run')
  for (const n of ['Silver nitrate 0.1 M', 'Rose bengal stain', 'Nitrile gloves, large']) {
    await hands.click(often(n))
    await expect(page.getByLabel(`Handed out: ${n}`)).toHaveValue('1')
  }
  await hands.click(page.getByRole('button', { name: 'Book 3 lines' }))
  await booked(page, /IS-\d+ is booked/)
  took('an issue of three things', 'mouse', hands)

  await begin()
  await hands.key('Alt+3')
  await expect(page.getByLabel(/^For/)).toBeFocused()
  await hands.type('Nitr')
  await expect(option('Nitrate run')).toBeVisible()
  await hands.key('Enter')
  for (const code of PLAIN.slice(0, 3)) {
    await expect(box()).toBeFocused()
    await hands.type(code)
    await expect(option(await name(code))).toBeVisible()
    await hands.key('Enter')
    await expect(page.getByLabel(`Handed out: ${await name(code)}`)).toBeFocused()
    await hands.key('Enter')
  }
  await hands.key('Control+Enter')
  await booked(page, /IS-\d+ is booked/)
  took('an issue of three things', 'keyboard', hands)

  await begin()
  await hands.scan(await own('jobs', 'Nitrate run'))
  for (const code of PLAIN.slice(0, 3)) await hands.scan(await ean(code))
  await hands.scan('SVC-BOOK')
  await booked(page, /IS-\d+ is booked/)
  took('an issue of three things', 'scanner', hands)

  // Four things to another stockroom.
  await begin()
  await hands.click(page.getByRole('link', { name: 'Move' }))
  for (let n = 1; n <= 4; n++) {
    await hands.click(oftenHere.getByRole('button').first())
    await expect(page.locator('[data-quantity]')).toHaveCount(n)
  }
  await hands.choose(page.getByLabel('All of it goes to'), 'Boat shed')
  await hands.click(page.getByRole('button', { name: 'Book 4 lines' }))
  await booked(page, /MV-\d+ is booked/)
  took('a move of four things', 'mouse', hands)

  await begin()
  await hands.key('Alt+4')
  for (const code of PLAIN) {
    await expect(box()).toBeFocused()
    await hands.type(code)
    await expect(option(await name(code))).toBeVisible()
    await hands.key('Enter')
    await expect(page.getByLabel(`Moves: ${await name(code)}`)).toBeFocused()
    await hands.key('Enter')
  }
  await expect(box()).toBeFocused()
  await hands.key('Enter')
  await expect(page.getByLabel('All of it goes to')).toBeFocused()
  await hands.type('Boat')
  await hands.key('Control+Enter')
  await booked(page, /MV-\d+ is booked/)
  took('a move of four things', 'keyboard', hands)

  await begin()
  await hands.scan('SVC-MOVE')
  for (const code of PLAIN) await hands.scan(await ean(code))
  await hands.scan(await own('places', 'Boat shed'))
  await hands.scan('SVC-BOOK')
  await booked(page, /MV-\d+ is booked/)
  took('a move of four things', 'scanner', hands)

  // One broken thing.
  const gloves = await name('GLV-M')
  await begin()
  await hands.click(page.getByRole('link', { name: 'Waste' }))
  await hands.click(page.getByRole('button', { name: 'Damaged' }))
  await hands.click(oftenHere.getByRole('button').first())
  await hands.click(page.getByRole('button', { name: 'Book 1 line' }))
  await booked(page, /WA-\d+ is booked/)
  took('one broken thing', 'mouse', hands)

  await begin()
  await hands.key('Alt+5')
  await expect(page.getByLabel('Why, for all lines')).toBeFocused()
  await hands.type('Dam')
  await hands.key('Enter')
  await expect(box()).toBeFocused()
  await hands.type('GLV-M')
  await expect(option(gloves)).toBeVisible()
  await hands.key('Enter')
  await expect(page.getByLabel(`Wasted: ${gloves}`)).toBeFocused()
  await hands.key('Control+Enter')
  await booked(page, /WA-\d+ is booked/)
  took('one broken thing', 'keyboard', hands)

  await begin()
  await hands.scan(await own('waste-reasons', 'Damaged'))
  await hands.scan(await ean('GLV-M'))
  await hands.scan('SVC-BOOK')
  await booked(page, /WA-\d+ is booked/)
  took('one broken thing', 'scanner', hands)
})

test('counting and putting right take no more actions than they must', async ({ page, demo }) => {
  await signIn(page, demo, 'tova', 'Boat shed')
  const hands = new Hands(page)
  const begin = () => today(page, demo.url)

  // A count of the boat shed with its figures: three lines are off, the rest is as expected.
  await begin()
  await hands.click(page.getByRole('link', { name: 'Count' }))
  await hands.click(page.getByLabel('with figures'))
  await hands.click(page.getByRole('button', { name: 'Count it here' }).first())
  await hands.click(page.getByRole('button', { name: 'Count all the same' }))
  await expect(page.getByText(/0 of \d+/)).toBeVisible()
  await hands.click(page.getByRole('button', { name: 'Grid' }))
  for (const n of [0, 1, 2]) {
    const b = page.locator(`[data-row="${n}"]`)
    const row = page.getByRole('row').filter({ has: b })
    await expect(row.getByRole('cell').nth(3)).toHaveText(/\d/)
    const expected = Number((await row.getByRole('cell').nth(3).innerText()).replace(/[^\d.]/g, ''))
    await hands.field(b, String(expected + (expected >= 1 ? -1 : 1)))
  }
  await hands.click(page.getByRole('button', { name: /^The other \d+ are as expected/ }))
  for (const again of await page.locator('[data-again]').all())
    await hands.field(again, await page.getByRole('row').filter({ has: again }).getByRole('cell').nth(3).innerText())
  await hands.click(page.getByRole('button', { name: /^Book \d+ counted lines/ }))
  await booked(page, /CT-\d+ is booked/)
  took('a count of forty, three off, with figures', 'mouse', hands)

  // What was missing is found: scanned on Count, its open difference comes up with all of it.
  const missing = page.getByRole('button', { name: 'Found again' }).first()
  await begin()
  await hands.click(page.getByRole('link', { name: 'Count' }))
  await hands.click(missing)
  await hands.click(page.getByRole('dialog').getByRole('button', { name: 'Book it' }))
  await booked(page, /is back on the shelf/)
  took('what was missing is found', 'mouse', hands)

  // Six prices that came late, in one table.
  const lines = ['GLV-M', 'GLV-L', 'PIP-200', 'WIP-D', 'VIA-20', 'PET-90']
  await page.getByLabel('Where I am working').selectOption({ label: 'Wet lab' })
  await page.goto(`${demo.url}/receive`)
  await page.getByLabel('Supplier').fill('Quillfern')
  for (const code of lines) {
    await page.locator('[data-add] input').fill(code)
    await page.locator('[role="option"]').first().click()
  }
  await page.keyboard.press('Control+Enter')
  await booked(page, /RC-\d+ is booked/)
  await begin()
  await hands.click(page.getByRole('link', { name: /^RC-/ }).first())
  await hands.click(page.getByRole('button', { name: 'Put its prices right' }))
  const prices = page.locator('[data-at-once]')
  await expect(prices).toHaveCount(6)
  for (let i = 0; i < 6; i++) await hands.field(prices.nth(i), String(20 + i))
  await hands.click(page.getByRole('button', { name: 'Put right 6 lines' }))
  await booked(page, /Put right by CR-\d+/)
  took('six prices that came late', 'mouse', hands)

  // An issue of three; part of it comes back; one of them was another thing.
  await page.goto(`${demo.url}/issue`)
  await isFor(page, 'Nitrate run')
  for (const code of lines.slice(0, 3)) {
    await page.locator('[data-add] input').fill(code)
    await page.locator('[role="option"]').first().click()
  }
  await page.keyboard.press('Control+Enter')
  await booked(page, /IS-\d+ is booked/)
  await begin()
  await hands.click(page.getByRole('link', { name: /^IS-/ }).first())
  await hands.click(page.getByRole('button', { name: 'Bring some of it back' }))
  await hands.field(prices.nth(1), '1')
  await hands.click(page.getByRole('button', { name: 'Book 1 line back' }))
  await booked(page, /BB-\d+ is booked/)
  took('part of an issue brought back', 'mouse', hands)

  await begin()
  await hands.click(page.getByRole('link', { name: /^IS-/ }).first())
  await hands.click(page.getByRole('button', { name: 'Replace' }).first())
  await hands.field(page.getByLabel('Another item'), 'GLV-S')
  await hands.click(page.locator('[role="option"]').first())
  await hands.click(page.getByRole('button', { name: 'Book the correction' }))
  await booked(page, /Put right by CR-\d+/)
  took('a wrong item put right', 'mouse', hands)

  // What was used last month by category; Look back opens with what was looked at last.
  await page.goto(`${demo.url}/look-back/by`)
  await expect(page.getByRole('heading', { level: 1, name: /^Used by/ })).toBeVisible()
  await begin()
  await hands.click(page.getByRole('link', { name: 'Look back' }))
  await hands.click(page.getByRole('button', { name: 'Last month' }))
  await hands.choose(page.getByLabel('By what'), 'by category')
  await expect(page.getByRole('heading', { level: 1, name: /^Used by category/ })).toBeVisible()
  await expect(page.getByRole('row', { name: /^Reagents/ })).toBeVisible()
  took('last month by category', 'mouse', hands)

  // What it was all worth when the month ended: that day is the one it opens with.
  await begin()
  await hands.click(page.getByRole('link', { name: 'Look back' }))
  await hands.click(page.getByRole('link', { name: 'Past day' }))
  await hands.choose(page.getByLabel('By what'), 'by category')
  await expect(page.getByRole('row', { name: /^Reagents/ })).toBeVisible()
  took('what lay there at the month’s end, by category', 'mouse', hands)

  // Two areas on paper, under one number.
  await page.getByLabel('Where I am working').selectOption({ label: 'All my places' })
  await begin()
  await hands.click(page.getByRole('link', { name: 'Count' }))
  await hands.click(page.getByLabel('Print a sheet of Seal hide'))
  await hands.click(page.getByLabel('Print a sheet of Launch Petrel'))
  await hands.click(page.getByRole('link', { name: 'Print 2 sheets on paper' }))
  await hands.click(page.getByRole('button', { name: 'Print them' }))
  await expect(page.getByRole('heading', { name: /of 2 parts, is ready/ })).toBeVisible()
  took('sheets for two areas', 'mouse', hands)
  expect(await verified(page, demo)).toEqual([])
})

test('what was counted is written down', () => {
  const cell = (task: string, how: How) => {
    const n = counted.get(task)?.[how]
    const goal = goals[task]?.[how]
    return n === undefined ? '–' : goal === undefined ? String(n) : `${n} (${goal})`
  }
  const table = [
    '| task | mouse | keyboard | scanner |',
    '|---|---|---|---|',
    ...Object.keys(goals).map(t => `| ${t} | ${cell(t, 'mouse')} | ${cell(t, 'keyboard')} | ${cell(t, 'scanner')} |`),
  ].join('\n')
  console.log(table)
  if (process.env.ACTIONS === 'anew')
    writeFileSync(DOC, readFileSync(DOC, 'utf8').replace(/\| task \|[\s\S]*?\n(?=\n)/, `${table}\n`))
  expect(readFileSync(DOC, 'utf8')).toContain(table)
})
