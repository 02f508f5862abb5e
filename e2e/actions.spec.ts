// How many actions the daily tasks take, from Today until it is booked: a click, a field, a key, a scan each count one.
// docs/actions.md is written from it: ACTIONS=anew npx playwright test --config e2e/playwright.config.ts actions
import { readFileSync, writeFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { puttingRight } from './actions-right.ts'
import { settingUp } from './actions-set-up.ts'
import { booked, counted, goals, Hands, type How, today, took } from './hands.ts'
import { expect, item, signIn, test } from './stage.ts'

const DOC = fileURLToPath(new URL('../docs/actions.md', import.meta.url))
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
  await puttingRight(page, demo)
})

test('setting up and asking for take no more actions than they must', async ({ page, demo }) => {
  await settingUp(page, demo)
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
