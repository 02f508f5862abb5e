import { countHere, expect, go, item, listenedTo, scan, signIn, test, type } from './stage.ts'
import type { Browser, Page } from '@playwright/test'
import type { Stage } from './stage.ts'

test.beforeEach(async ({ page }) => void (await listenedTo(page)))

/** Somebody else, in a browser of their own. */
async function another(browser: Browser, demo: Stage, who: string, place: string): Promise<Page> {
  const page = await (await browser.newContext()).newPage()
  await signIn(page, demo, who, place)
  return page
}
const saved = (page: Page) => page.waitForResponse(r => r.request().method() === 'PATCH' && r.ok())
/** What is typed on a page is not saved until it is let go: as where the network is slow. */
async function held(page: Page): Promise<() => void> {
  let letGo = () => {}
  const gone = new Promise<void>(go => {
    letGo = go
  })
  await page.route('**/api/{slips,restock}/*', async route => {
    if (route.request().method() === 'PATCH') await gone
    await route.continue()
  })
  return () => letGo()
}

test('two people on one delivery: each sees the other’s lines as they come; the same line asks whose stands', async ({
  page,
  browser,
  demo,
}) => {
  await signIn(page, demo, 'ines', 'Wet lab')
  await go(page, 2, 'What arrived')
  await page.getByLabel('Supplier').fill('Quillfern')
  await scan(page, (await item(page, demo, 'GLV-M')).codes[0]!)
  await expect(page.getByText(/saved \d\d:\d\d/)).toBeVisible()
  const tova = await another(browser, demo, 'tova', 'Wet lab')
  await go(tova, 2, 'What arrived')
  await tova.getByRole('listitem').filter({ hasText: 'Ines' }).getByRole('link').first().click()
  await expect(tova.getByLabel('Supplier')).toHaveValue('Quillfern')
  await scan(tova, (await item(tova, demo, 'PET-90')).codes[0]!)
  const dishes = page.getByLabel(/^Arrived: Petri/)
  await expect(dishes, 'by itself, on the other screen').toHaveValue('1')
  await expect(page.getByText('Tova Brand writes on it too')).toBeVisible()
  await page.getByLabel('Delivery note').fill('DN 7')
  await expect(tova.getByLabel('Delivery note')).toHaveValue('DN 7')
  // Both type on the same line before either hears of the other.
  const letGo = await held(page)
  await dishes.fill('12')
  const hers = saved(tova)
  await tova.getByLabel(/^Arrived: Petri/).fill('20')
  await hers
  letGo()
  await expect(page.getByText('Tova Brand saved this line otherwise: 20')).toBeVisible()
  await expect(dishes).toHaveValue('12')
  await page.keyboard.press('Control+Enter')
  await expect(page.getByText('say first which stands')).toBeVisible()
  await page.getByRole('button', { name: 'Keep what stands here' }).click()
  await expect(tova.getByLabel(/^Arrived: Petri/)).toHaveValue('12')
  // What one books, the other has on the screen no more, and is told.
  await page.keyboard.press('Control+Enter')
  await expect(page.getByText(/RC-\d+ is booked: 2 lines/)).toBeVisible()
  await expect(tova.getByText(/booked already as RC-\d+/)).toBeVisible()
  await tova.getByRole('button', { name: 'See what was booked' }).click()
  await expect(tova.getByText(/^RC-\d+/).first()).toBeVisible()
  await tova.context().close()
})

test('two people count one area: nobody’s entry is lost, and where they differ both are shown', async ({
  page,
  browser,
  demo,
}) => {
  await signIn(page, demo, 'ines', 'Wet lab')
  const gloves = await item(page, demo, 'GLV-M')
  await go(page, 6, 'Which area is counted?')
  await page.getByLabel('with figures').press('Space')
  await countHere(page, 'Wet lab').press('Enter')
  await expect(page.getByText(/0 of \d+/)).toBeVisible()
  const tova = await another(browser, demo, 'tova', 'Wet lab')
  await tova.goto(page.url())
  await expect(tova.getByText(/0 of \d+/)).toBeVisible()
  await scan(page, gloves.codes[0]!)
  await type(page, '30')
  await page.keyboard.press('Enter')
  await expect(tova.getByText(/1 of \d+/), 'the other tablet sees it').toBeVisible()
  await scan(tova, gloves.codes[0]!)
  await expect(tova.getByText('Ines Corrie counted it: 30')).toBeVisible()
  await type(tova, '31')
  await tova.keyboard.press('Enter')
  // In the grid what others counted is shown, and counted too on a line of one's own.
  await tova.getByRole('button', { name: 'Grid' }).click()
  const small = await item(page, demo, 'GLV-S')
  await scan(page, small.codes[0]!)
  await type(page, '12')
  await page.keyboard.press('Enter')
  await tova.getByRole('button', { name: 'Count it too: Nitrile gloves, small' }).click()
  await type(tova, '12.5')
  await expect(
    tova.getByText('12.5 does not fit: this item is kept with 0 decimals.'),
    'why it cannot be',
  ).toBeVisible()
  await tova.keyboard.press('Control+a')
  await type(tova, '12')
  await expect(tova.getByText('does not fit')).toHaveCount(0)
  await expect(page.getByText(/2 of \d+/)).toBeVisible()
  for (const p of [page, tova]) {
    await p.getByRole('button', { name: 'Review', exact: true }).click()
    await expect(p.getByText(/Ines Corrie counted 30, Tova Brand counted 31/)).toBeVisible()
  }
  await expect(page.getByText('Tova Brand counts too')).toBeVisible()
  // What is booked is what was seen: her last entry too.
  await expect(page.locator('tr', { hasText: 'counted by Tova Brand' }).filter({ hasText: 'small' })).toContainText(
    'none',
  )
  await page.getByRole('button', { name: /Take off what you counted: Nitrile gloves/ }).click()
  await expect(page.getByText('1 line is far off')).toBeVisible()
  await page.getByLabel('Counted again: Nitrile gloves, medium').fill('31')
  await page.keyboard.press('Control+Enter')
  await expect(page.getByText(/CT-\d+ is booked/)).toBeVisible()
  await expect(tova.getByText(/booked already as CT-\d+/)).toBeVisible()
  await tova.context().close()
})

test('two people on one restock slip', async ({ page, browser, demo }) => {
  await signIn(page, demo, 'ruben', 'Galley')
  await page.goto(`${demo.url}/restock`)
  const slip = page.locator('section.slip').filter({ has: page.getByRole('heading', { name: 'Fallowmere' }) })
  await slip.getByRole('button', { name: 'Write this slip' }).press('Enter')
  await expect(page.locator('[data-line]').first()).toBeVisible()
  const tova = await another(browser, demo, 'tova', 'Galley')
  await tova.goto(page.url())
  const [mine, hers] = [page, tova].map(p => p.locator('[data-line]').first()) as [
    ReturnType<Page['locator']>,
    ReturnType<Page['locator']>,
  ]
  await hers.fill('7')
  await expect(mine, 'by itself').toHaveValue('7')
  const letGo = await held(page)
  await mine.fill('8')
  const later = saved(tova)
  await hers.fill('9')
  await later
  letGo()
  await expect(page.getByText('Tova Brand saved this line otherwise: 9 tray')).toBeVisible()
  await page.getByRole('button', { name: 'Take Tova Brand’s' }).click()
  await expect(mine).toHaveValue('9')
  await page.getByRole('button', { name: 'Mark as asked for' }).click()
  await page.getByLabel('How, or where').fill('by telephone')
  await page.keyboard.press('Enter')
  await expect(page.getByText(/is asked: \d+ lines? (is|are) on/)).toBeVisible()
  await expect(tova.getByText(/asked for today/)).toBeVisible()
  await tova.context().close()
})
