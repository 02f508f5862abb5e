// Sent and received: by scanner and by keyboard, from one place to another, with a paper that travels; half of it, lost, and seen by both ends.
import type { Page } from '@playwright/test'
import { expect, item, onHand, scan, signIn, test, type, verified } from './stage.ts'

test('filters come by boat: what is sent is on its way, arrives by scan on a tablet, the rest is lost and found; both ends see it', async ({
  page,
  browser,
  demo,
}) => {
  // Who keeps the boat shed sends; who keeps the wet lab waits, with a tablet.
  await signIn(page, demo, 'ruben', 'Boat shed')
  const tablet = await (await browser.newContext({ viewport: { width: 1024, height: 768 }, hasTouch: true })).newPage()
  await signIn(tablet, demo, 'tova', 'Wet lab')
  const shackle = await item(page, demo, 'SHA-D8')
  const rope = await item(page, demo, 'ROP-12')
  const before = [await onHand(page, demo, 'SHA-D8', 'Boat shed'), await onHand(page, demo, 'ROP-12', 'Boat shed')]
  await page.goto(`${demo.url}/send`)
  await expect(page.getByLabel('Where it goes')).toBeFocused()
  await page.getByLabel('Where it goes').selectOption({ label: 'Wet lab' })
  await page.getByLabel('With whom it travels').fill('Bram, on foot')
  await scan(page, shackle.codes[0]!)
  await scan(page, rope.codes[0]!)
  await page.getByLabel('Sent: Rope 12 mm').fill('5')
  // Too soon: what stands in the way is said, and nothing is lost.
  await page.getByLabel('To be there on').fill('20 11 2026')
  await page.keyboard.press('Control+Enter')
  await expect(page.getByRole('alert').filter({ hasText: 'cannot be there before it is sent' })).toBeVisible()
  await page.getByLabel('To be there on').fill('25 11 2026')
  await page.keyboard.press('Control+Enter')
  await expect(page.getByText(/DP-\d+ is booked: 2 lines to Wet lab/)).toBeVisible()
  // It waits on the other one's Today by itself; the paper that came with it is scanned.
  await expect(tablet.getByText('From Boat shed to Wet lab: 2 things on the way')).toBeVisible()
  const number = /DP-\d+/.exec(await page.getByText(/DP-\d+ is booked/).innerText())![0]
  await scan(tablet, number)
  await tablet.getByRole('link', { name: 'What has become of it' }).click()
  await expect(tablet.getByRole('row').filter({ hasText: rope.name })).toContainText('5')
  // Another day is said once it stands there whole, not with each sign of it.
  const days: string[] = []
  tablet.on('request', r => {
    if (r.url().endsWith('/due')) days.push(r.postData()!)
  })
  const due = tablet.getByLabel('To be there on')
  await due.fill('')
  await type(tablet, '26 11 2026')
  await due.press('Enter')
  await expect(due).toHaveValue('26 Nov 2026')
  await due.fill('soon')
  await due.press('Tab')
  await expect(tablet.getByText('No such date.')).toBeVisible()
  await due.fill('20 11 2026')
  await due.press('Tab')
  await expect(tablet.getByRole('alert').filter({ hasText: 'cannot be there before it was sent' })).toBeVisible()
  await expect(due, 'what stands').toHaveValue('26 Nov 2026')
  expect(days).toEqual(['{"due":"2026-11-26"}', '{"due":"2026-11-20"}'])
  await tablet.getByRole('button', { name: 'It has arrived' }).click()
  await expect(tablet.getByRole('button', { name: 'Book', exact: true })).toBeVisible()
  await scan(tablet, rope.codes[0]!)
  await expect(tablet.getByLabel('Arrived: Rope 12 mm'), 'all that was awaited of it').toHaveValue('5')
  await tablet.getByLabel('Arrived: Rope 12 mm').fill('4')
  await tablet.getByRole('button', { name: 'Book 1 line' }).click()
  // Back where it was sent: what is left is still on its way, and the sender sees it without doing anything.
  const row = (name: string) => tablet.getByRole('row').filter({ hasText: name })
  await expect(row('Rope 12 mm')).toContainText('4')
  await expect(tablet.getByText('Part of it is on its way').or(tablet.getByText('On its way'))).toBeVisible()
  await page.goto(`${demo.url}/transfers`)
  await page.getByRole('link', { name: number }).click()
  await expect(page.getByRole('heading', { name: 'From Boat shed to Wet lab' })).toBeVisible()
  // One metre went overboard; the shackle turns up.
  await tablet.getByRole('button', { name: 'Some of it is lost' }).click()
  const ask = tablet.getByRole('dialog', { name: 'What is lost?' })
  await ask.getByRole('checkbox', { name: /D-shackle/ }).uncheck()
  await expect(ask.getByLabel('Lost: Rope 12 mm'), 'all that is left of it, or less').toHaveValue('1')
  await ask.getByLabel('How was it lost?').fill('Cut on the way')
  await ask.getByRole('button', { name: 'It is lost' }).click()
  await expect(page.getByRole('columnheader', { name: 'Lost' }), 'on the other screen, by itself').toBeVisible()
  await tablet.getByRole('button', { name: 'It has arrived' }).click()
  await tablet.getByRole('button', { name: 'All of it has come' }).click()
  await tablet.getByRole('button', { name: 'Book 1 line' }).click()
  await expect(page.getByText('Nothing is on its way any more')).toBeVisible()
  expect([
    await onHand(page, demo, 'SHA-D8', 'Boat shed'),
    await onHand(page, demo, 'ROP-12', 'Boat shed'),
    await onHand(tablet, demo, 'SHA-D8'),
    await onHand(tablet, demo, 'ROP-12'),
  ]).toEqual([before[0]! - 1, before[1]! - 5, 1, 4])
  // Both papers can be taken back, the arrival first.
  await tablet.getByRole('link', { name: /^AR-/ }).last().click()
  await tablet.getByRole('button', { name: 'Take the whole slip back' }).click()
  await tablet.getByRole('dialog').getByRole('button', { name: 'Take it back' }).click()
  await expect(tablet.getByText(/Taken back by/)).toBeVisible()
  await expect(page.getByText('Part of it is on its way')).toBeVisible()
  expect(await verified(tablet, demo)).toEqual([])
})

test('the hide is filled up from our own shelves: counted, its lists picked by scan, put down there', async ({
  page,
  demo,
}) => {
  await page.setViewportSize({ width: 1024, height: 768 })
  await signIn(page, demo, 'ruben', 'Seal hide')
  await page.goto(`${demo.url}/restock`)
  await page.getByRole('button', { name: 'Fill it up from our shelves' }).press('Enter')
  await expect(page.getByText(/to pick/).first()).toBeVisible()
  // Of several lists each waits under *Picking*.
  if (!page.url().includes('/picks/')) await page.getByRole('link', { name: 'Fill Seal hide' }).first().click()
  await expect(page.getByRole('heading', { level: 1, name: 'Fill Seal hide' })).toBeVisible()
  const table = page.getByRole('table', { name: 'What is picked, in the order of the walk' })
  const first = table.getByRole('row').nth(1)
  const name = await first.getByRole('button').innerText()
  const code = await named(page, demo.url, name)
  await scan(page, code.codes[0]!)
  const taken = page.getByText(/^1 of \d+$/)
  await expect(taken).toBeVisible()
  const lines = Number((await taken.innerText()).split(' ').at(-1))
  const before = await onHand(page, demo, code.code, 'Seal hide')
  await page.keyboard.press('Control+Enter')
  await expect(page.getByText(/MV-\d+ is put down: 1 line\./)).toBeVisible()
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Move Fill Seal hide')
  // What nobody took moved nothing: it says so, and there is nothing of it to be put right.
  await expect(page.getByRole('cell', { name: /^not taken, of \d/ })).toHaveCount(lines - 1)
  await expect(page.getByRole('button', { name: 'Take back', exact: true })).toHaveCount(1)
  expect(await onHand(page, demo, code.code, 'Seal hide')).toBeGreaterThan(before)
})
const named = async (page: Page, url: string, name: string) =>
  (
    (await (await page.request.get(`${url}/api/items?q=${encodeURIComponent(name)}`)).json()) as {
      rows: { name: string; code: string; codes: string[] }[]
    }
  ).rows.find(x => x.name === name)!
