import { countHere, expect, go, item, onHand, scan, signIn, test, type, verified } from './stage.ts'

test('the whole day by keyboard and scanner bursts alone', async ({ page, demo }) => {
  await signIn(page, demo, 'ines', 'Wet lab')
  const gloves = await item(page, demo, 'GLV-M')
  const vials = await item(page, demo, 'VIA-20')
  const before = { gloves: await onHand(page, demo, 'GLV-M'), vials: await onHand(page, demo, 'VIA-20') }

  // A delivery: scan twice for two cases, scan once and type for the other.
  await go(page, 2, 'What arrived')
  await scan(page, gloves.packs[0]!.codes[0]!)
  await scan(page, gloves.packs[0]!.codes[0]!)
  await expect(page.getByLabel('Arrived: Nitrile gloves, medium')).toHaveValue('2')
  await scan(page, vials.packs[0]!.codes[0]!)
  await page.getByLabel('Arrived: Sample vial 20 ml').press('Control+a')
  await type(page, '3')
  await expect(page.getByText(`${before.vials} → ${before.vials + 300} each`)).toBeVisible()
  // Nothing is booked without a supplier; the reason stands where it is missing.
  await page.keyboard.press('Control+Enter')
  await expect(page.getByText('Which supplier is it? Type the name.')).toBeVisible()
  await page.getByLabel('Supplier').focus()
  await type(page, 'Ostrelith')
  await page.keyboard.press('Control+Enter')
  await expect(page.getByText(/RC-\d+ is booked: 2 lines/)).toBeVisible()
  expect(await onHand(page, demo, 'GLV-M')).toBe(before.gloves + 20)

  // An issue to a job, left and found again.
  await go(page, 3, 'What is handed out')
  await page.getByLabel(/^For/).focus()
  await type(page, 'Nitrate r')
  await scan(page, gloves.codes[0]!)
  await scan(page, 'SVC-5')
  await expect(page.getByLabel('Handed out: Nitrile gloves, medium')).toHaveValue('5')
  await expect(page.getByText(/saved \d\d:\d\d/)).toBeVisible()
  await page.reload()
  await expect(page.getByLabel('Handed out: Nitrile gloves, medium')).toHaveValue('5')
  await scan(page, 'SVC-BOOK')
  await expect(page.getByText(/IS-\d+ is booked/)).toBeVisible()
  expect(await onHand(page, demo, 'GLV-M')).toBe(before.gloves + 15)

  // One spoilt box, taken back at once: it was another one.
  await go(page, 5, 'What is wasted')
  await page.getByLabel('Why, for all lines').focus()
  await type(page, 'Damaged')
  await scan(page, gloves.codes[0]!)
  await page.keyboard.press('Control+Enter')
  await expect(page.getByText(/WA-\d+ is booked/)).toBeVisible()
  await page.getByRole('button', { name: 'Take it back' }).press('Enter')
  await expect(page.getByText(/is taken back by CR-\d+/)).toBeVisible()
  expect(await onHand(page, demo, 'GLV-M')).toBe(before.gloves + 15)

  // A count with figures: everything as expected but one thing, counted twice.
  await go(page, 6, 'Which area is counted?')
  await page.getByLabel('with figures').press('Space')
  await countHere(page, 'Wet lab').press('Enter')
  await expect(page.getByText(/0 of \d+/)).toBeVisible()
  await scan(page, gloves.codes[0]!)
  await expect(page.locator('.sheet').getByText('Nitrile gloves, medium').first()).toBeVisible()
  await scan(page, 'SVC-9')
  await scan(page, 'SVC-NEXT')
  await expect(page.getByText(/1 of \d+/)).toBeVisible()
  await page.getByRole('button', { name: 'Review', exact: true }).press('Enter')
  await page.keyboard.press('Control+Enter')
  await expect(page.getByText('1 line is far off')).toBeVisible()
  await page.getByLabel('Counted again: Nitrile gloves, medium').focus()
  await type(page, '9')
  await page.keyboard.press('Control+Enter')
  await expect(page.getByText(/CT-\d+ is booked/)).toBeVisible()
  expect(await onHand(page, demo, 'GLV-M')).toBe(9)
  await expect(page.getByRole('listitem').filter({ hasText: 'Nitrile gloves, medium' })).toContainText(
    `−${before.gloves + 6}`,
  )

  // What to ask for, and the ledger with the pair.
  await go(page, 7, 'What to ask for in Wet lab')
  await go(page, 0, /^What was booked/)
  await expect(page.getByText('· corrected since').first()).toBeVisible()
  const asManager = await page.context().browser()!.newPage()
  await signIn(asManager, demo, 'tova')
  expect(await verified(asManager, demo)).toEqual([])
  await asManager.close()
})

test('a line is replaced on its slip, and every figure opens a working that adds up', async ({ page, demo }) => {
  await signIn(page, demo, 'tova', 'Wet lab')
  await go(page, 0, /^What was booked/)
  await page.getByLabel('Kind of slip').selectOption('receipt')
  await expect(page.locator('tbody tr').filter({ hasText: 'Delivery' }).first()).toBeVisible()
  await expect(page.locator('tbody tr').filter({ hasNotText: 'Delivery' })).toHaveCount(0)
  await page.getByRole('row').nth(1).getByRole('link').click()
  await page.getByRole('button', { name: 'Price' }).first().click()
  await page.getByLabel(/^Price/).fill('99')
  await page.getByRole('button', { name: 'Book the correction' }).click()
  await expect(page.getByText(/Put right by CR-\d+/)).toBeVisible()
  await expect(page.getByText(/Corrected by/)).toBeVisible()
  // What it was worth when it was booked stays; beneath stands what it is worth now, and by which slip.
  await expect(page.getByText(/now\s.*€.*\sby\s+CR-\d+/)).toBeVisible()
  await expect(
    page
      .locator('tbody')
      .getByText(/now\s+\+.*\d/)
      .first(),
  ).toBeVisible()
  // An invoice states the amount; where it was booked, another quantity asks what it states for that.
  await page.getByRole('button', { name: 'Invoice' }).first().click()
  await page.getByLabel('The invoice states').fill('120')
  await page.getByRole('button', { name: 'Book the correction' }).click()
  await expect(page.getByText(/Corrected by/)).toHaveCount(2)
  await page.getByRole('button', { name: 'Replace' }).first().click()
  await page.getByLabel('What was true').fill('1234')
  await expect(page.getByText(/An invoice was booked for .* of it/)).toBeVisible()
  await page.getByRole('button', { name: 'Leave it' }).click()
  const slip = page.url()
  await page.getByRole('link', { name: /^CR-/ }).last().click()
  await expect(page.getByRole('cell', { name: 'invoiced as 120' })).toBeVisible()
  await page.goto(slip)
  await page.locator('tbody a').first().click()
  await page.getByRole('button', { name: /^Cost of one/ }).click()
  const dialog = page.getByRole('dialog')
  await expect(dialog).toContainText('Together')
  const figures = (await dialog.locator('td.num').allInnerTexts()).map(t =>
    Number(t.replace(/[^\d.,−-]/g, '').replace('−', '-')),
  )
  expect(figures.slice(0, -1).reduce((a, b) => a + b, 0)).toBeCloseTo(figures.at(-1)!, 4)
  await page.keyboard.press('Escape')
  await expect(page.getByRole('button', { name: /^Cost of one/ })).toBeFocused()
})
