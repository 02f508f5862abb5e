// Picking: for several jobs in walking order, by scanner and by keyboard; put down, fetched, used from where it lies; two on one list.
import { expect, item, placeOf, scan, signIn, test, type, verified } from './stage.ts'
import type { Page } from '@playwright/test'

const line = (page: Page, name: string) =>
  page
    .getByRole('table', { name: 'What is picked, in the order of the walk' })
    .getByRole('row')
    .filter({ hasText: name })

test('a list that cannot be read for a moment goes on by itself, and what was taken stands', async ({ page, demo }) => {
  await signIn(page, demo, 'ruben', 'Boat shed')
  const boat = page.getByLabel(/Petrel, engine service/)
  await page.goto(`${demo.url}/picks`)
  await boat.check()
  await page.getByRole('button', { name: 'Pick', exact: true }).press('Enter')
  await expect(page.locator('[data-taken]')).toBeFocused()
  await page.keyboard.press('Enter')
  await expect(page.getByText(/^1 of \d+$/)).toBeVisible()
  const note = page.getByRole('alert').filter({ hasText: 'Not all of this page could be read.' })
  const lost = (lose: boolean) => (lose ? page.route('**/api/picks/*', r => r.abort()) : page.unroute('**/api/picks/*'))
  const elsewhere = (name: string) => page.request.post(`${demo.url}/api/jobs`, { data: { name, lines: [] } })
  // In the midst of it, as another one changes what is picked for.
  await lost(true)
  expect((await elsewhere('Shag, new warps')).status()).toBe(201)
  await expect(note).toContainText('The server cannot be reached.')
  await lost(false)
  // As soon as anything else is answered it is read anew, without anybody who asks for it.
  await expect(note).toHaveCount(0)
  await expect(page.getByText(/cannot be reached/)).toHaveCount(0)
  await expect(page.getByText(/^1 of \d+$/)).toBeVisible()
  // At its beginning: it can be picked from as soon as it is there.
  await lost(true)
  await page.reload()
  await expect(note).toContainText('The server cannot be reached.')
  await lost(false)
  await expect(page.getByText(/^1 of \d+$/)).toBeVisible()
  await expect(page.locator('[data-taken]')).toBeFocused()
})

test('two jobs are picked on one walk: by scan and key, less than asked and more, beside another; fetched, used, the rest put back', async ({
  page,
  browser,
  demo,
}) => {
  await page.setViewportSize({ width: 1024, height: 768 })
  await signIn(page, demo, 'ruben', 'Boat shed')
  const tova = await (await browser.newContext()).newPage()
  await signIn(tova, demo, 'tova', 'Boat shed')
  // A second job beside the engine service.
  const oil = await item(page, demo, 'OIL-1030')
  const rope = await item(page, demo, 'ROP-12')
  const begun = await page.request.post(`${demo.url}/api/jobs`, {
    data: {
      name: 'Shag, new warps',
      place: await placeOf(page, demo, 'Boat shed'),
      lines: [
        { id: crypto.randomUUID(), item: oil.id, typed: '1' },
        { id: crypto.randomUUID(), item: rope.id, typed: '12' },
      ],
    },
  })
  expect(begun.status()).toBe(201)
  await page.goto(`${demo.url}/picks`)
  await page.getByLabel(/Petrel, engine service/).check()
  await page.getByLabel(/Shag, new warps/).check()
  await page.getByRole('button', { name: 'Pick for 2 jobs' }).press('Enter')
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Petrel, engine service')
  await tova.goto(page.url())
  await expect(page.getByText(/^0 of \d+$/)).toBeVisible()
  // By key: all that is asked, then the next one by itself.
  const first = page.locator('[data-taken]')
  await expect(first).toBeFocused()
  const name = (await first.getAttribute('aria-label'))!.replace('Taken: ', '')
  await page.keyboard.press('Enter')
  await expect(page.getByText(/^1 of \d+$/)).toBeVisible()
  await expect(tova.getByText(/^1 of \d+$/), 'by itself, on the other screen').toBeVisible()
  expect(name.length).toBeGreaterThan(2)
  // By scan: the line that asks for it, wherever one stands; another scan is one more.
  await scan(page, rope.codes[0]!)
  await expect(line(page, 'Shag, new warps').filter({ hasText: rope.name })).toContainText('12')
  await page.getByLabel(`Taken: ${rope.name}`).fill('10')
  await page.keyboard.press('Enter')
  await expect(line(tova, rope.name).first()).toContainText('10')
  // What is not on it is said, and goes along where it is wanted.
  const gloves = await item(page, demo, 'SHA-D8')
  await scan(page, gloves.codes[0]!)
  await expect(page.getByText('is not on this list')).toBeVisible()
  await page.getByRole('button', { name: 'Take it too' }).click()
  await expect(line(page, gloves.name)).toContainText('1')
  await page.getByRole('button', { name: /^Put down \d lines/ }).press('Enter')
  await expect(page.getByText('ready to fetch').first()).toBeVisible()
  await expect(tova.getByText('ready to fetch').first()).toBeVisible()
  await page.goto(`${demo.url}/picks`)
  await page.getByRole('button', { name: 'It is fetched' }).press('Enter')
  await type(page, 'Bram')
  await page.keyboard.press('Enter')
  await expect(page.getByText('Bram has fetched')).toBeVisible()
  // What lies with it is used; the two that were not taken stay owed.
  await page.goto(`${demo.url}/jobs`)
  await page.getByRole('link', { name: 'Shag, new warps' }).press('Enter')
  await expect(page.getByRole('row').filter({ hasText: rope.name })).toContainText('10 picked, with it')
  await page.getByRole('button', { name: 'It is done' }).click()
  await expect(page.getByRole('alert')).toContainText('picked for Shag, new warps still lie')
  await page.getByRole('button', { name: 'Put back what lies with it' }).press('Enter')
  await expect(page.getByRole('heading', { level: 1 })).toContainText('What moves')
  await expect(page.getByRole('button', { name: /^Book \d/ })).toBeVisible()
  await page.keyboard.press('Control+Enter')
  await expect(page.getByText(/MV-\d+ is booked/)).toBeVisible()
  await page.getByRole('button', { name: 'It is done' }).click()
  await expect(page.getByText('done', { exact: true })).toBeVisible()
  expect(await verified(tova, demo)).toEqual([])
})

test('what is not there is taken otherwise, on the list and on the job; what comes meanwhile goes on the list', async ({
  page,
  browser,
  demo,
}) => {
  await signIn(page, demo, 'ines', 'Wet lab')
  const coarse = await item(page, demo, 'FLT-045')
  const fine = await item(page, demo, 'FLT-020')
  const tova = await (await browser.newContext()).newPage()
  await signIn(tova, demo, 'tova', 'Wet lab')
  await page.goto(`${demo.url}/picks`)
  await page.getByLabel(/Water sampling, four stations/).check()
  await page.getByRole('button', { name: 'Pick', exact: true }).press('Enter')
  await expect(page.getByRole('heading', { name: 'Not here' })).toBeVisible()
  await tova.goto(page.url())
  await page.getByRole('button', { name: `Take 4 pack ${fine.name} instead of ${coarse.name}` }).press('Enter')
  // Two lots of it lie here: a line for each.
  await expect(line(page, fine.name)).toHaveCount(2)
  await expect(line(tova, fine.name), 'by itself, on the other screen').toHaveCount(2)
  // Two of the coarse ones are wanted after all, and come while it is picked.
  await tova.getByRole('link', { name: 'Water sampling, four stations' }).first().click()
  await tova.getByLabel(`Takes of ${coarse.name}`).fill('2')
  await tova.keyboard.press('Enter')
  await expect(page.getByRole('complementary').getByText(coarse.name)).toBeVisible()
  const came = await tova.request.post(`${demo.url}/api/slips/${crypto.randomUUID()}/booking`, {
    data: {
      seen: null,
      content: {
        kind: 'receipt',
        place: await placeOf(tova, demo, 'Wet lab'),
        head: { supplier: 'Quillfern' },
        lines: [{ id: crypto.randomUUID(), item: coarse.id, typed: '2', price: '42', lot: { code: 'F9001' } }],
      },
    },
  })
  expect(came.status()).toBe(201)
  await expect(page.getByText(`${coarse.name} is here by now.`)).toBeVisible()
  await page.getByRole('button', { name: 'Put it on the list' }).press('Enter')
  await expect(line(page, coarse.name)).toContainText('F9001')
  // All of it is taken, by scanner and key; the job owes neither.
  await scan(page, coarse.codes[0]!)
  await expect(page.getByText('1 of 6')).toBeVisible()
  for (const name of [fine.name, coarse.name])
    for (const l of await line(page, name).all()) {
      await l.click()
      await page.getByRole('button', { name: new RegExp(`^Take \\d+ of ${name}|^Next`) }).press('Enter')
    }
  await page.getByRole('button', { name: 'Put down 3 lines' }).press('Enter')
  await expect(page.getByText('ready to fetch').first()).toBeVisible()
  await expect(tova.getByRole('row').filter({ hasText: 'FLT-020' })).toContainText('instead of 4 pack')
  await expect(tova.getByRole('row').filter({ hasText: 'FLT-020' })).toContainText('4 picked, with it')
  await verified(page, demo)
})
