import { followed } from './at-rest.ts'
import { expect, signIn, test, type, verified } from './stage.ts'

test('what is out of date is seen on Today, wasted in one go, and gone from another screen', async ({
  page,
  demo,
  browser,
}) => {
  await signIn(page, demo, 'ruben', 'Galley')
  const other = await (await browser.newContext()).newPage()
  await signIn(other, demo, 'tova', 'Galley')
  const line = other.getByRole('listitem').filter({ hasText: /out of date/ })
  await expect(line).toHaveCount(1)

  await page.getByRole('link', { name: 'Use, move or waste' }).press('Enter')
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('What runs out of date in Galley')
  await page.getByRole('button', { name: 'Choose all out of date' }).press('Enter')
  const n = await page.locator('tbody input:checked').count()
  expect(n).toBeGreaterThan(0)
  // What is out of date is not to be used.
  await expect(page.getByRole('button', { name: 'Use first' })).toBeDisabled()
  await page.getByRole('button', { name: `Waste ${n}` }).press('Enter')
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('What is wasted')
  await expect(page.getByRole('button', { name: `Book ${n} line` })).toBeEnabled()
  // The reason stands there already, and the effect says what is lost.
  await expect(page.getByText(/−€[\d .\u202f]+\d\d\s*of stock/)).toBeVisible()
  await page.keyboard.press('Control+Enter')
  await expect(page.getByText(/WA-\d+ is booked/)).toBeVisible()
  await expect(
    line.filter({ hasText: /\d+ lots? out of date/ }),
    'nothing out of date is left in the other window',
  ).toHaveCount(0)
  expect(await verified(other, demo)).toEqual([])
  await other.context().close()
})

test('what runs out of date goes back to its supplier, for what they credit', async ({ page, demo }) => {
  await signIn(page, demo, 'tova', 'Wet lab')
  await page.goto(`${demo.url}/waste/expiring?days=90`)
  await page.locator('tbody input[type=checkbox]').first().press('Space')
  await page.getByRole('button', { name: 'Give back' }).press('Enter')
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(/^What goes back to the supplier/)
  await expect(page.getByRole('link', { name: 'Receive', exact: true }).last()).toBeVisible()
  await page.getByLabel('Supplier', { exact: true }).fill('Quillfern')
  await page.getByLabel('Supplier', { exact: true }).press('Enter')
  // What is typed while it is being booked would go along: first the answer.
  const answered = page.waitForResponse(r => r.url().endsWith('/booking') && r.status() === 422)
  await page.keyboard.press('Control+Enter')
  await answered
  await expect(page.getByText('What does the supplier credit for it? Type 0 if nothing.')).toBeVisible()
  await expect(page.getByRole('button', { name: 'Book 1 line' })).toBeEnabled()
  await page.getByLabel(/^Price of one/).fill('0.50')
  await page.keyboard.press('Control+Enter')
  await expect(page.getByText(/SR-\d+ is booked: 1 line/)).toBeVisible()
  expect(await verified(page, demo)).toEqual([])
})

test('Today is arranged to one’s own taste, and stays so on another device', async ({ page, demo, browser }) => {
  await signIn(page, demo, 'ines', 'Wet lab')
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Wednesday 25 November: what is waiting')
  await page.getByRole('button', { name: 'Arrange' }).press('Enter')
  await page.getByLabel('Open differences', { exact: true }).press('Space')
  await page.getByRole('button', { name: 'Slips left lying further up' }).press('Enter')
  await page.getByRole('button', { name: 'Done' }).press('Enter')
  await expect(page.getByText('in your order')).toBeVisible()
  const again = await (await browser.newContext()).newPage()
  await signIn(again, demo, 'ines', 'Wet lab')
  await expect(again.getByText('in your order')).toBeVisible()
  await expect(again.getByText(/open difference/)).toHaveCount(0)
  await again.context().close()
})

test('a tablet changes hands by PIN; what was being written is kept for whoever wrote it; who books nothing has no tab for it', async ({
  page,
  demo,
  browser,
}) => {
  const own = await (await browser.newContext()).newPage()
  await signIn(own, demo, 'sorrel')
  await own.getByRole('button', { name: /Sorrel Dunne/ }).press('Enter')
  await own.getByRole('menuitem', { name: 'My password and PIN, where I am signed in' }).click()
  await own.getByLabel('Your password').fill('gannet holm')
  await own.getByLabel('PIN', { exact: true }).fill('2468')
  await own.getByRole('button', { name: 'Set the PIN' }).click()
  await expect(own.getByText('Your PIN is set.')).toBeVisible()
  await own.context().close()

  await signIn(page, demo, 'ruben', 'Galley')
  await page.goto(`${demo.url}/issue`)
  await page.getByLabel('Taken by').fill('Bram')
  await expect(page.getByText(/saved \d\d:\d\d/)).toBeVisible()
  await page.getByRole('button', { name: /Ruben Asker/ }).press('Enter')
  await page.getByRole('menuitem', { name: 'Somebody else takes over' }).click()
  await page.getByLabel('You sign in as').fill('sorrel')
  await page.getByLabel('PIN').fill('1111')
  await page.getByRole('button', { name: 'Take over' }).click()
  await expect(page.getByText('do not belong together')).toBeVisible()
  await page.getByLabel('PIN').fill('2468')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('button', { name: /Sorrel Dunne/ })).toBeVisible()
  await expect(page.getByRole('link', { name: 'Issue' })).toHaveCount(0)
  await page.goto(`${demo.url}/issue`)
  await expect(page.getByRole('heading', { level: 1 }), 'nor is the page there').toContainText('what is waiting')
  await expect(page.getByText('€')).toHaveCount(0)
  const drafts = async (name: string) => {
    const c = await (await browser.newContext()).newPage()
    await signIn(c, demo, name, 'Galley')
    const r = await c.request.get(`${demo.url}/api/slips?state=draft&kind=issue`)
    const { rows } = (await r.json()) as { rows: { taker: string }[] }
    await c.context().close()
    return rows.map(x => x.taker)
  }
  expect(await drafts('ruben')).toContain('Bram')
})

test('the strip finds what words mean: an item typed wrongly, a place, a lot, a slip, a supplier, a person', async ({
  page,
  demo,
}) => {
  await signIn(page, demo, 'tova')
  const strip = page.getByRole('combobox', { name: 'Scan or search' })
  const find = async (words: string, option: RegExp) => {
    await strip.click()
    await type(page, words)
    await page.getByRole('option', { name: option }).first().click()
  }
  await find('nitrle gloves', /Nitrile gloves, medium/)
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Nitrile gloves, medium')
  // The sign for a millionth as a keyboard has it.
  await find('tips 200 ul', /Pipette tips 200 µl/)
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Pipette tips 200 µl')
  await find('seal hi', /Seal hide area/)
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('What lies in Seal hide')
  const { rows } = (await (await page.request.get(`${demo.url}/api/items?q=ETH-96`)).json()) as {
    rows: { id: string }[]
  }
  const lot = (
    (await (await page.request.get(`${demo.url}/api/items/${rows[0]!.id}/lots`)).json()) as { rows: { code: string }[] }
  ).rows[0]!.code
  await find(lot, /lot of Ethanol 96 %/)
  await expect(page.getByRole('heading', { level: 1 }), 'everything about the lot').toHaveText(`Lot ${lot}`)
  await expect(page.locator('main').getByRole('link', { name: 'Ethanol 96 %' }).first()).toBeVisible()
  await find('IS-0042', /IS-0042/)
  await expect(page.getByText('IS-0042').first()).toBeVisible()
  await page.getByLabel('Where I am working').selectOption({ label: 'All my places' })
  await find('skerrow', /Skerrow Creamery supplier/)
  await expect(page).toHaveURL(/party=supplier/)
  await expect(page.locator('tbody tr').first()).toContainText('Skerrow Creamery')
  await find('Ruben', /Ruben Asker person/)
  await expect(page).toHaveURL(/q=Ruben/)
})

test('an observer looks at everything, values too, and is offered nothing to book', async ({ page, demo }) => {
  const atRest = followed(page)
  await signIn(page, demo, 'linnea')
  await expect(page.getByRole('heading', { level: 1 })).toContainText('what is waiting')
  await atRest()
  await expect(
    page.getByText(/left lying|has no price|open difference/),
    'what only a keeper can deal with',
  ).toHaveCount(0)
  for (const name of ['Receive', 'Issue', 'Move', 'Waste', 'Count', 'Set-up'])
    await expect(page.getByRole('link', { name, exact: true })).toHaveCount(0)
  const { rows } = (await (await page.request.get(`${demo.url}/api/items?q=ETH-96`)).json()) as {
    rows: { id: string }[]
  }
  await page.goto(`${demo.url}/items/${rows[0]!.id}`)
  await expect(page.getByText(/worth €/)).toBeVisible()
  await expect(page.getByRole('button', { name: 'Issue', exact: true })).toHaveCount(0)
  await page.getByRole('button', { name: /^Cost of one/ }).press('Enter')
  await expect(page.getByRole('dialog')).toContainText('Together')
  await page.keyboard.press('Escape')
  await page.goto(`${demo.url}/restock`)
  await expect(page.getByRole('heading', { level: 1 })).toContainText('What to ask for')
  await atRest()
  await expect(page.getByRole('button', { name: 'Write this slip' })).toHaveCount(0)
  await page.goto(`${demo.url}/look-back/close`)
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Closed months')
  await atRest()
  await expect(page.getByRole('button', { name: /^Close \w+ 20/ })).toHaveCount(0)
})

test('another day begins while nobody does anything: what stands on the screen is told anew, and is that day’s', async ({
  page,
  demo,
}) => {
  await page.clock.install()
  await signIn(page, demo, 'tova', 'Wet lab')
  const check = page.locator('article, li, section').filter({ hasText: 'Probe check, both boats' }).first()
  await expect(check).toContainText('tomorrow 09:00')
  const beside = await page.context().newPage()
  await beside.goto(`${demo.url}/ledger`)
  const booked = beside.getByRole('row').filter({ hasText: 'IS-7235' })
  await expect(booked).toContainText('today 10:00')
  const anew = [
    page.waitForResponse(r => new URL(r.url()).pathname === '/api/today'),
    beside.waitForResponse(r => new URL(r.url()).pathname === '/api/slips'),
  ]
  // Both windows have one clock.
  await page.clock.fastForward('15:00:00')
  await Promise.all(anew)
  await expect(check).toContainText('today 09:00')
  await expect(booked).toContainText('yesterday 10:00')
})
