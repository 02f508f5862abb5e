import { readFileSync } from 'node:fs'
import { expect, go, item, listenedTo, scan, signIn, test, type } from './stage.ts'

test('a restock slip by keyboard: quantities down the list, a line by hand, asked for; the other sees by whom, and then that it is on its way', async ({
  page,
  demo,
  browser,
}) => {
  await listenedTo(page)
  await signIn(page, demo, 'ruben', 'Galley')
  const other = await (await browser.newContext()).newPage()
  await signIn(other, demo, 'tova', 'Galley')
  await other.goto(`${demo.url}/restock`)
  await page.keyboard.press('Alt+7')
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('What to ask for in Galley')
  const slip = page.locator('section.slip').filter({ has: page.getByRole('heading', { name: 'Fallowmere' }) })
  await slip.getByRole('button', { name: 'Write this slip' }).press('Enter')
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('To ask for, of Fallowmere')
  await expect(other.getByText('Ruben Asker has this slip open'), 'at once, in another window').toBeVisible()
  await expect(other.getByRole('heading', { name: 'Fallowmere' })).toHaveCount(0)

  const boxes = page.locator('[data-line]')
  await expect(boxes.first(), 'the keyboard is at the first quantity').toBeFocused()
  const n = await boxes.count()
  await type(page, '7')
  await page.keyboard.press('Enter')
  if (n > 1) {
    await expect(boxes.nth(1)).toBeFocused()
    await page.keyboard.press('ArrowUp')
  } else await page.keyboard.press('Shift+Tab')
  await page.locator('[data-add] input').focus()
  await type(page, 'SAL-S')
  await page.keyboard.press('Enter')
  await expect(page.getByLabel('Ask for: Sea salt')).toBeFocused()
  await type(page, 'many')
  await expect(page.getByRole('alert')).toHaveText(/“many” is no quantity/)
  await boxes.first().focus()
  await page.getByRole('button', { name: 'Mark as asked for' }).press('Enter')
  await expect(page.getByLabel('Ask for: Sea salt'), 'led to what cannot be read').toBeFocused()
  await page.reload()
  await expect(page.getByLabel('Ask for: Sea salt'), 'kept, though it cannot be read').toHaveValue('many')
  await page.getByLabel('Ask for: Sea salt').fill('2')
  await expect(page.getByRole('alert')).toHaveCount(0)
  // At once: it goes out with the page.
  await page.reload()
  await expect(page.getByLabel('Ask for: Sea salt'), 'kept by itself').toHaveValue('2')
  await expect(boxes.first()).toHaveValue('7')
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save as text' }).press('Enter'),
  ])
  expect(readFileSync(await file.path(), 'utf8')).toMatch(/For Fallowmere[\s\S]*2 box\s+SAL-S\s+Sea salt/)

  await page.getByRole('button', { name: 'Mark as asked for' }).press('Enter')
  await page.getByLabel('How, or where').fill('by telephone')
  await page.getByLabel('Their number').fill('FP 12')
  await page.getByLabel('Expected').fill('3 12')
  await page.getByRole('button', { name: 'It is asked for' }).press('Enter')
  await expect(
    page.getByText(/asked for today \d\d:\d\d by Ruben Asker, by telephone, their number FP 12, expected 3 Dec/),
  ).toBeVisible()
  await expect(other.getByText(new RegExp(`${n + 1} of ${n + 1} lines to come`))).toBeVisible()
  await other.goto(`${demo.url}/`)
  await expect(other.getByText('FP 12')).toBeVisible()
  // The letter: the mail server hangs up, then is gone, then there again.
  demo.mail.failure = 'busy'
  await page.getByRole('button', { name: 'Mail it' }).press('Enter')
  await page.getByLabel('Address').fill('orders')
  await page.keyboard.press('Enter')
  await page.getByLabel('Address').fill('orders@fallow.example')
  await page.keyboard.press('Enter')
  await expect(page.getByText('waits, tried 1 time')).toBeVisible()
  await expect(page.getByText(/451 try again later/)).toBeVisible()
  await other.goto(`${demo.url}/restock`)
  await expect(other.getByText(/the letter waits to go out/)).toBeVisible()
  demo.mail.failure = 'none'
  await page.getByRole('button', { name: 'Try again now' }).press('Enter')
  await expect(page.getByText(/^sent today/)).toBeVisible()
  await expect(other.getByText(/the letter waits to go out/), 'by itself, in the other window').toHaveCount(0)
  expect(demo.mail.letters.map(l => [l.to, l.attachments.length])).toEqual([[['orders@fallow.example'], 2]])
  expect(demo.mail.letters[0]!.text).toMatch(/2 box {2}Sea salt \(SAL-S\)/)
  await other.context().close()
})

test('what is typed while a newer state is on its way stays, and is saved', async ({ page, demo, browser }) => {
  await signIn(page, demo, 'ruben', 'Galley')
  const other = await (await browser.newContext()).newPage()
  await signIn(other, demo, 'tova', 'Galley')
  await page.goto(`${demo.url}/restock`)
  const slip = page.locator('section.slip').filter({ has: page.getByRole('heading', { name: 'Fallowmere' }) })
  await slip.getByRole('button', { name: 'Write this slip' }).press('Enter')
  const box = page.locator('[data-line]').first()
  await box.focus()
  let release = () => {}
  const asked = new Promise<void>(begun =>
    page.route('**/api/restock/*', async route => {
      if (route.request().method() !== 'GET') return route.continue()
      const answer = await route.fetch()
      await new Promise<void>(go => {
        release = go
        begun()
      })
      await route.fulfill({ response: answer })
    }),
  )
  await other.request.post(`${demo.url}/api/jobs`, { data: { code: 'NEW', name: 'A new job' } })
  await asked
  await type(page, '41')
  const late = page.waitForResponse(r => r.request().method() === 'GET' && /restock\/./.test(r.url()))
  release()
  await (await late).finished()
  await expect(box).toHaveValue('41')
  await page.unroute('**/api/restock/*')
  await page.reload()
  await expect(page.locator('[data-line]').first(), 'and is kept').toHaveValue('41')
  await other.close()
})

test('looking back: a year in bars, the slips behind one, a past day read two ways, a month closed', async ({
  page,
  demo,
}) => {
  await signIn(page, demo, 'tova')
  await page.goto(`${demo.url}/look-back`)
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('What came, what went, what remained')
  await expect(page.locator('tbody tr')).toHaveCount(11)
  await page.getByLabel('Year').selectOption('2025')
  await expect(page.locator('tbody tr')).toHaveCount(12)
  await page.getByRole('link', { name: 'Jul', exact: true }).press('Enter')
  await expect(page.getByText('1 Jul 2025 to 31 Jul 2025')).toBeVisible()
  await page.goBack()
  await expect(page.getByLabel('Year'), 'as it was left').toHaveValue('2025')
  await page.getByRole('link', { name: 'Used, wasted, received' }).press('Enter')
  await page.getByRole('link', { name: 'Catering' }).press('Enter')
  await expect(page.getByText(/Catering, 1 Jan 2026 to/)).toBeVisible()
  await expect(page.locator('tbody tr').first()).toContainText('Galley')
  // Wasted, by category, within one place: the bar's own slips, and no others.
  await page.getByLabel('Where I am working').selectOption({ label: 'Galley' })
  await page.goto(`${demo.url}/look-back/by`)
  await page.getByLabel('What', { exact: true }).selectOption('wasted')
  await page.getByLabel('By what').selectOption({ label: 'by category' })
  const dairy = page.getByRole('row', { name: /^Milk and cheese/ })
  const lines = Number(await dairy.getByRole('cell').nth(2).innerText())
  expect(lines).toBeGreaterThan(0)
  await dairy.locator('.bar').click()
  await expect(page.getByText(/Wasted: Milk and cheese, 1 Jan 2026 to/)).toBeVisible()
  const behind = page.locator('tbody tr')
  await expect(behind.first()).toBeVisible()
  expect(await behind.count()).toBeLessThanOrEqual(lines)
  for (const row of await behind.all()) await expect(row).toContainText(/Waste|Correction/)
  await page.goto(`${demo.url}/look-back/day`)
  await expect(page.getByText(/As the books stood that evening/)).toBeVisible()
  await expect(page.locator('tbody tr').first()).toBeVisible()
  await page.getByLabel('as it was').check()
  await expect(page.getByText(/As it was that evening/)).toBeVisible()
  await page.getByLabel('Day').fill('1 1 2020')
  await expect(page.getByText('Nothing lay there then')).toBeVisible()
  await page.getByRole('link', { name: 'Closed months' }).press('Enter')
  await expect(page.getByRole('button', { name: 'Close October 2026' })).toBeVisible()
  const closed = await page.locator('tbody tr').count()
  await page.getByRole('button', { name: 'Close October 2026' }).press('Enter')
  await page.getByRole('button', { name: 'Close it' }).press('Enter')
  await expect(page.locator('tbody tr')).toHaveCount(closed + 1)
  await expect(page.getByRole('button', { name: /^Close \w+ 20/ })).toHaveCount(0)
})

test('what a requester asks for is handed over, sent out by the keeper, one line will not come, and the rest arrives', async ({
  page,
  demo,
  browser,
}) => {
  await signIn(page, demo, 'sorrel')
  await page.goto(`${demo.url}/restock`)
  const bread = await item(page, demo, 'FLO-B')
  const oats = (await (await page.request.get(`${demo.url}/api/items?limit=200`)).json()) as {
    rows: { id: string; name: string; code: string }[]
  }
  const galley = (
    (await (await page.request.get(`${demo.url}/api/places`)).json()) as { rows: { id: string; name: string }[] }
  ).rows.find(p => p.name === 'Galley')!
  const other = oats.rows.find(i => i.id !== bread.id && i.code.startsWith('FLO'))!
  const id = crypto
    .randomUUID()
    .replace(/^(.{14})./, '$17')
    .replace(/^(.{19})./, '$18')
  await page.request.post(`${demo.url}/api/restock`, {
    data: {
      id,
      source: { kind: 'nobody', id: null },
      lines: [bread.id, other.id].map((of, i) => ({
        id: `01a21000-0000-7000-8000-00000000001${i}`,
        item: of,
        place: galley.id,
        typed: '3',
      })),
    },
  })
  await page.goto(`${demo.url}/restock/${id}`)
  await expect(page.getByText(/RS-\d{4}/)).toBeVisible()
  await expect(page.getByRole('button', { name: 'Mark as asked for' })).toHaveCount(0)
  await page.getByRole('button', { name: 'Hand it over' }).click()
  await expect(page.getByText(/handed over .*not sent out yet/)).toBeVisible()

  const keeper = await (await browser.newContext()).newPage()
  await signIn(keeper, demo, 'ines', 'Galley')
  await keeper.getByRole('listitem').filter({ hasText: 'Sorrel Dunne asks for 2 things' }).getByRole('link').click()
  // Given back with a reason: it waits for whoever asked, who asks for less and hands it over again.
  await keeper.getByRole('button', { name: 'Give it back' }).click()
  await keeper.getByLabel('Why').fill('two will do')
  await keeper.keyboard.press('Enter')
  await expect(keeper.getByText(/is given back to Sorrel Dunne/)).toBeVisible()
  await expect(page.getByText(/given back by Ines Corrie .*: two will do/)).toBeVisible()
  await page.goto(demo.url)
  await page
    .getByRole('listitem')
    .filter({ hasText: 'Ines Corrie gave back what you asked for' })
    .getByRole('link')
    .click()
  await page.locator('[data-line]').first().fill('2')
  await page.getByRole('button', { name: 'Hand it over' }).click()
  await expect(page.getByText(/handed over .*not sent out yet/)).toBeVisible()
  await expect(keeper.locator('[data-line]').first()).toHaveValue('2')
  await keeper.getByRole('button', { name: 'Mark as asked for' }).click()
  await keeper.getByLabel('How, or where').fill('by telephone')
  await keeper.getByRole('button', { name: 'It is asked for' }).click()
  // Live: whoever asked sees it without doing anything.
  await expect(page.getByText(/by telephone/)).toBeVisible()
  await keeper.getByRole('button', { name: `Will not come: ${other.name}` }).click()
  await keeper.getByLabel('Why').fill('they have none')
  await keeper.keyboard.press('Enter')
  await expect(keeper.getByText(/will not come: they have none/)).toBeVisible()
  await expect(page.getByText(/will not come: they have none/)).toBeVisible()
  await keeper.getByRole('button', { name: 'It has come' }).click()
  await expect(keeper.getByRole('heading', { level: 1 })).toHaveText('What arrived')
  await keeper.getByLabel('Supplier').fill('Quillfern')
  const lot = keeper.getByLabel(/^Lot/).first()
  if (await lot.count()) await lot.fill('B7')
  const day = keeper.getByLabel(/^Use by/).first()
  if (await day.count()) await day.fill('1.12.27')
  await keeper
    .getByLabel(/^Price/)
    .first()
    .fill('4')
  await keeper.getByRole('button', { name: /^Book/ }).click()
  await expect(keeper.getByText(/is booked/).first()).toBeVisible()
  await expect(page.getByText(/nothing more to come/)).toBeVisible()
  await keeper.context().close()
})

test('what was refused stays said while others go on booking', async ({ page, browser, demo }) => {
  await signIn(page, demo, 'tova', 'Wet lab')
  const { slips } = (await (await page.request.get(`${demo.url}/api/restock`)).json()) as {
    slips: { id: string; state: string; source: { kind: string } }[]
  }
  const { id } = slips.find(s => s.state === 'asked' && s.source.kind === 'supplier')!
  await page.goto(`${demo.url}/restock/${id}`)
  await page
    .getByRole('button', { name: /^Will not come: / })
    .first()
    .click()
  const detail = 'This cannot be said now.'
  await page.route('**/cancellation', r =>
    r.fulfill({
      status: 409,
      contentType: 'application/problem+json',
      json: { type: '', title: '', status: 409, code: 'saved_meanwhile', detail, fields: [] },
    }),
  )
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('Why').fill('they have none')
  await dialog.getByLabel('Why').press('Enter')
  await expect(dialog.getByText(detail)).toBeVisible()
  const read = page.waitForResponse(r => r.url().endsWith(`/api/restock/${id}`))
  const other = await (await browser.newContext()).newPage()
  await signIn(other, demo, 'ruben', 'Wet lab')
  const gloves = await item(other, demo, 'GLV-M')
  await go(other, 2, 'What arrived')
  await other.getByLabel('Supplier').fill('Ostrelith')
  await scan(other, gloves.codes[0]!)
  await other.keyboard.press('Control+Enter')
  await expect(other.getByText(/RC-\d+ is booked/)).toBeVisible()
  await other.context().close()
  await (await read).finished()
  await expect(dialog.getByText(detail)).toBeVisible()
})
