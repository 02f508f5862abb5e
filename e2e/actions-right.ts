import type { Page } from '@playwright/test'
import { booked, Hands, today, took } from './hands.ts'
import { type Stage, expect, isFor, item, signIn, verified } from './stage.ts'

/** Counting, and what is put right later: each as few actions as can be. */
export async function puttingRight(page: Page, demo: Stage): Promise<void> {
  await signIn(page, demo, 'tova', 'Boat shed')
  const hands = new Hands(page)
  const begin = () => today(page, demo.url)

  // A count of the boat shed with its figures: three lines are off, the rest is as expected.
  await begin()
  await hands.click(page.getByRole('link', { name: 'Count', exact: true }))
  await hands.click(page.getByLabel('with figures'))
  await hands.click(page.getByRole('button', { name: 'Count it here' }).first())
  await hands.click(page.getByRole('button', { name: 'Count all the same' }))
  await expect(page.getByText(/0 of \d+/)).toBeVisible()
  await hands.click(page.getByRole('button', { name: 'Grid' }))
  // One off of many is within what is tolerated: nobody asks for a second figure.
  for (let n = 0, off = 0; off < 3; n++) {
    const b = page.locator(`[data-row="${n}"]`)
    const row = page.getByRole('row').filter({ has: b })
    await expect(row.getByRole('cell').nth(3)).toHaveText(/\d/)
    const expected = Number((await row.getByRole('cell').nth(3).innerText()).replace(/[^\d.]/g, ''))
    if (expected < 25) continue
    await hands.field(b, String(expected - 1))
    off++
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
  await hands.click(page.getByRole('link', { name: 'Count', exact: true }))
  await hands.click(missing)
  await hands.click(page.getByRole('dialog').getByRole('button', { name: 'Book it' }))
  await booked(page, /is back on the shelf/)
  took('what was missing is found', 'mouse', hands)

  // By keyboard its name is looked for; by scanner it is in the hand.
  const gone = async () => {
    const { rows } = (await (await page.request.get(`${demo.url}/api/differences`)).json()) as {
      rows: { open: string; item: { id: string; code: string } }[]
    }
    return rows.find(d => d.open.startsWith('-'))!.item.code
  }
  await page.getByLabel('Where I am working').selectOption({ label: 'All my places' })
  await begin()
  await hands.key('Alt+6')
  await expect(page.getByRole('heading', { name: /^Open differences/ })).toBeVisible()
  await hands.key('/')
  await hands.type(await gone())
  await expect(page.locator('#scan-found [role="option"]').first()).toBeVisible()
  await hands.key('Enter')
  await expect(page.getByLabel('How many')).toBeFocused()
  await hands.key('Enter')
  await booked(page, /is back on the shelf/)
  took('what was missing is found', 'keyboard', hands)
  await begin()
  await hands.scan('SVC-COUNT')
  await expect(page.getByRole('heading', { name: /^Open differences/ })).toBeVisible()
  const code = (await item(page, demo, await gone())).codes[0]!
  await hands.scan(code)
  await expect(page.getByLabel('How many')).toBeVisible()
  await hands.scan('SVC-BOOK')
  await booked(page, /is back on the shelf/)
  took('what was missing is found', 'scanner', hands)

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
  await page.locator('[data-quantity]').nth(1).fill('2')
  await page.keyboard.press('Control+Enter')
  await booked(page, /IS-\d+ is booked/)
  await begin()
  await hands.click(page.getByRole('link', { name: /^IS-/ }).first())
  await hands.click(page.getByRole('button', { name: 'Bring some of it back' }))
  await hands.field(prices.nth(1), '1')
  await hands.click(page.getByRole('button', { name: 'Book 1 line back' }))
  await booked(page, /BB-\d+ is booked/)
  took('part of an issue brought back', 'mouse', hands)

  const issue = /IS-\d+/.exec(
    await page
      .getByText(/IS-\d+/)
      .first()
      .innerText(),
  )![0]
  await begin()
  await hands.key('/')
  await hands.type(issue)
  await expect(page.getByRole('option', { name: new RegExp(issue) }).first()).toBeVisible()
  await hands.key('Enter')
  await expect(page.getByRole('button', { name: 'Bring some of it back' })).toBeVisible()
  await hands.key('Control+Enter')
  await expect(prices.first()).toBeFocused()
  await hands.key('Enter')
  await hands.key('Enter')
  await hands.type('1')
  await hands.key('Control+Enter')
  await booked(page, /BB-\d+ is booked/)
  took('part of an issue brought back', 'keyboard', hands)
  // Its number stands on the printed slip as a code; what comes back is in the hand.
  await begin()
  await hands.scan(issue)
  await expect(page.getByRole('button', { name: 'Bring some of it back' })).toBeVisible()
  await hands.scan((await item(page, demo, lines[1]!)).codes[0]!)
  await expect(prices.nth(1)).toHaveValue('1')
  await hands.scan('SVC-BOOK')
  await booked(page, /BB-\d+ is booked/)
  took('part of an issue brought back', 'scanner', hands)

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
  await hands.click(page.getByRole('link', { name: 'Count', exact: true }))
  await hands.click(page.getByLabel('Print a sheet of Seal hide'))
  await hands.click(page.getByLabel('Print a sheet of Launch Petrel'))
  await hands.click(page.getByRole('link', { name: 'Print 2 sheets on paper' }))
  await hands.click(page.getByRole('button', { name: 'Print them' }))
  await expect(page.getByRole('heading', { name: /of 2 parts, is ready/ })).toBeVisible()
  took('sheets for two areas', 'mouse', hands)

  await begin()
  await hands.key('Alt+6')
  const areas = page.locator('[data-area]')
  await expect(areas.first()).toBeFocused()
  await hands.key(' ')
  await hands.key('ArrowDown')
  await expect(areas.nth(1)).toBeFocused()
  await hands.key(' ')
  await hands.key('Control+Enter')
  await expect(page.getByRole('heading', { level: 1, name: /^Print 2 sheets/ })).toBeVisible()
  await hands.key('Control+Enter')
  await expect(page.getByRole('heading', { name: /of 2 parts, is ready/ })).toBeVisible()
  took('sheets for two areas', 'keyboard', hands)
  expect(await verified(page, demo)).toEqual([])
}
