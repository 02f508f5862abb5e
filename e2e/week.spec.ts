import { followed } from './at-rest.ts'
import { expect, go, item, onHand, scan, signIn, test, type, verified, type Stage } from './stage.ts'
import type { Page } from '@playwright/test'

const own = async (page: Page, demo: Stage, list: 'jobs' | 'places', name: string): Promise<string> =>
  (
    (await (await page.request.get(`${demo.url}/api/${list}`)).json()) as { rows: { name: string; own: string }[] }
  ).rows.find(r => r.name === name)!.own
const codeOf = async (page: Page, demo: Stage, code: string): Promise<string> =>
  (await item(page, demo, code)).codes[0]!
let last = ''
/** The strip says that a slip is booked, and it is another one than before. */
const booked = async (page: Page, number: string) => {
  const said = page.getByText(new RegExp(`${number}-\\d+ is booked`))
  await expect
    .poll(async () => ((await said.count()) ? said.first().innerText() : last), `another ${number} is booked`)
    .not.toBe(last)
  last = await said.first().innerText()
}

test('a keeper’s week by keyboard and scanner: a delivery, three issues, a move, waste, a count on paper, one on the tablet, what to ask for, a look back', async ({
  page,
  demo,
  browser,
}) => {
  await signIn(page, demo, 'ines', 'Galley')
  const [salt, sugar] = [await codeOf(page, demo, 'SAL-S'), await codeOf(page, demo, 'SUG-W')]
  const have = { salt: await onHand(page, demo, 'SAL-S', 'Galley'), sugar: await onHand(page, demo, 'SUG-W', 'Galley') }

  // Thursday: the boat.
  await go(page, 2, /What arrived/)
  await page.getByLabel('Supplier', { exact: true }).focus()
  await type(page, 'Fallowmere')
  await scan(page, salt)
  await scan(page, sugar)
  await scan(page, sugar)
  await expect(page.getByLabel('Arrived: Sugar')).toHaveValue('2')
  await page.getByLabel('Price of one kg: Sugar').focus()
  await type(page, '1.10')
  await page.keyboard.press('Control+Enter')
  await booked(page, 'RC')
  // Three jobs; each by its card, then the thing.
  for (const [job, n] of [
    ['Breakfast', 1],
    ['Dinner', 1],
    ['Baking', 2],
  ] as const) {
    await go(page, 3, 'What is handed out')
    await scan(page, await own(page, demo, 'jobs', job))
    for (let i = 0; i < n; i++) await scan(page, sugar)
    await page.keyboard.press('Control+Enter')
    await booked(page, 'IS')
  }
  // Some salt for the launch: the thing, then where it goes.
  await go(page, 4, 'What moves')
  await scan(page, salt)
  await scan(page, await own(page, demo, 'places', 'Launch Petrel'))
  await expect(page.getByLabel('Into which place: Sea salt').locator('option:checked')).toHaveText(/Launch Petrel/)
  await page.keyboard.press('Control+Enter')
  await booked(page, 'MV')
  // A bag burst: why, then one scan.
  await go(page, 5, 'What is wasted')
  await page.getByRole('button', { name: 'Damaged' }).press('Enter')
  await scan(page, sugar)
  await expect(page.getByLabel('Wasted: Sugar')).toHaveValue('1')
  await page.keyboard.press('Control+Enter')
  await booked(page, 'WA')
  // 2 came, 1 + 1 + 2 were used, 1 was wasted; 1 of the salt came and went.
  expect({
    salt: await onHand(page, demo, 'SAL-S', 'Galley'),
    sugar: await onHand(page, demo, 'SUG-W', 'Galley'),
  }).toEqual({ salt: have.salt, sugar: have.sugar - 3 })
  expect(await onHand(page, demo, 'SAL-S', 'Launch Petrel')).toBe(1)

  // A whole bin is moved: its code, then the goal; looked at, and left.
  await go(page, 4, 'What moves')
  await scan(page, await own(page, demo, 'places', 'Ice room'))
  await expect(page.getByText(/^All of Galley, Ice room: \d+ lines\. Now say where it goes\./)).toBeVisible()
  const lines = await page.locator('tr[data-line]').count()
  await scan(page, await own(page, demo, 'places', 'Cold room'))
  await expect(page.getByLabel('All of it goes to').locator('option:checked')).toHaveText(/Cold room/)
  await expect(page.getByRole('button', { name: `Book ${lines} lines` })).toBeEnabled()
  await page.getByRole('button', { name: 'Drop this draft' }).press('Enter')
  await page.getByRole('button', { name: 'Drop it' }).press('Enter')

  // On paper: the seal hide, blind; only one line was written down.
  await page.getByLabel('Where I am working').selectOption({ label: 'All my places' })
  await go(page, 6, 'Which area is counted?')
  await page.getByLabel('Print a sheet of Seal hide').focus()
  await page.keyboard.press('Space')
  await page.getByRole('link', { name: 'Print a sheet on paper' }).press('Enter')
  await page.getByRole('button', { name: 'Print it' }).press('Enter')
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Sheet 1 is ready for the printer')
  await scan(page, 'SVT01014')
  await page.getByLabel('Page 1 was counted: time').focus()
  await type(page, '10:59')
  const vials = String(await onHand(page, demo, 'VIA-20', 'Seal hide'))
  await page.getByLabel(/Counted: Sample vial/).focus()
  await type(page, vials)
  await scan(page, 'SVC-BOOK')
  await scan(page, 'SVC-BOOK')
  await booked(page, 'CT')

  // On the tablet: the launch, three lines by its keys.
  const tablet = await (await browser.newContext({ viewport: { width: 800, height: 1280 }, hasTouch: true })).newPage()
  await signIn(tablet, demo, 'ines', 'Launch Petrel')
  await tablet.goto(`${demo.url}/count`)
  await tablet.getByRole('button', { name: 'Count it here' }).first().tap()
  for (let i = 0; i < 3; i++) {
    await expect(tablet.getByText(`${i} of`)).toBeVisible()
    for (const digit of '12') await tablet.getByRole('button', { name: digit, exact: true }).tap()
    await tablet.getByRole('button', { name: 'Next line' }).tap()
  }
  await tablet.getByRole('button', { name: 'Review', exact: true }).tap()
  await expect(tablet.getByRole('heading', { level: 1, name: 'Counted beside expected' })).toBeVisible()
  await expect(tablet.getByLabel(/^Counted again/), 'nobody has a dozen of those').toHaveCount(3)
  for (const again of await tablet.getByLabel(/^Counted again/).all()) await again.fill('12')
  for (const worth of await tablet.getByLabel(/^Worth of one/).all()) await worth.fill('1')
  await tablet.getByRole('button', { name: 'Book 3 counted lines' }).tap()
  await booked(tablet, 'CT')
  await tablet.context().close()

  // What to ask for next week.
  await page.getByLabel('Where I am working').selectOption({ label: 'Galley' })
  await go(page, 7, 'What to ask for in Galley')
  await page.getByRole('button', { name: 'Write this slip' }).first().press('Enter')
  await page.getByRole('button', { name: 'Mark as asked for' }).press('Enter')
  await page.getByLabel('How, or where').fill('by telephone')
  await page.keyboard.press('Enter')
  await expect(page.getByText(/asked for today \d\d:\d\d by Ines Corrie/)).toBeVisible()

  // The month, looked back at: what Baking took stands in its bar, and the slip behind it is the one above.
  await page.goto(`${demo.url}/look-back/by`)
  await page.getByLabel('By what').selectOption({ label: 'by job' })
  await page.getByLabel('From month').selectOption({ label: 'Nov 2026' })
  await page.getByRole('link', { name: 'Baking' }).press('Enter')
  await expect(page.getByRole('row', { name: /Issue to Baking/ }).first()).toContainText('Ines Corrie')
  await page.goto(`${demo.url}/look-back/months`)
  await expect(page.getByRole('row', { name: /^Nov/ })).toBeVisible()
  await page.context().clearCookies()
  await signIn(page, demo, 'tova')
  expect(await verified(page, demo)).toEqual([])
})

test('the same week as a requester and as an observer: what they see, what they may ask for, and that nothing else is offered', async ({
  page,
  demo,
}) => {
  const atRest = followed(page)
  await signIn(page, demo, 'sorrel')
  await atRest()
  await expect(page.getByRole('link', { name: 'Receive' })).toHaveCount(0)
  await page.goto(`${demo.url}/receive`)
  await expect(page, 'what one may not do is no place to stand in').toHaveURL(`${demo.url}/`)
  await page.goto(`${demo.url}/stock?q=sugar`)
  await expect(page.getByRole('row', { name: /Sugar/ })).toBeVisible()
  expect(await page.locator('main').innerText(), 'no values').not.toMatch(/€/)
  await page.goto(`${demo.url}/restock`)
  await page.getByRole('button', { name: 'Write this slip' }).first().press('Enter')
  const first = page.locator('[data-line]').first()
  await first.focus()
  await type(page, '5')
  for (const out of ['Mark as asked for', 'Mail it'])
    await expect(
      page.getByRole('button', { name: out }),
      'nothing leaves the house by whoever may only ask',
    ).toHaveCount(0)
  await page.getByRole('button', { name: 'Hand it over' }).press('Enter')
  await expect(page.getByText(/asked for by Sorrel Dunne, handed over today \d\d:\d\d/)).toBeVisible()

  await page.context().clearCookies()
  await signIn(page, demo, 'linnea')
  await atRest()
  for (const work of ['Receive', 'Issue', 'Move', 'Waste', 'Count'])
    await expect(page.getByRole('link', { name: work, exact: true })).toHaveCount(0)
  await page.goto(`${demo.url}/look-back/accounts`)
  await expect(page.getByRole('row', { name: /5030 Used: Galley/ })).toContainText('FOOD Catering')
  const [pdf] = await Promise.all([
    page.waitForEvent('download'),
    page
      .getByRole('button', { name: 'Save list' })
      .click()
      .then(() => page.getByRole('menuitem', { name: 'as PDF' }).click()),
  ])
  expect(pdf.suggestedFilename()).toMatch(/^accounts-2026-10-2026-10-2026-11-25-copy-\d+\.pdf$/)
  await page.goto(`${demo.url}/restock`)
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(/^What to ask for in/)
  await expect(page.getByText('handed over')).toBeVisible()
  await expect(page.getByRole('button', { name: 'Write this slip' })).toHaveCount(0)
})
