import { expect, go, onHand, scan, signIn, test, type, verified } from './stage.ts'
import { textOf } from '../server/test/pdf.ts'

test('an area is counted on paper: printed with figures, entered by keyboard with the time of the page, once', async ({
  page,
  demo,
}) => {
  await signIn(page, demo, 'tova')
  await go(page, 6, 'Which area is counted?')
  await page.getByLabel('Print a sheet of Seal hide').focus()
  await type(page, ' ')
  await page.getByRole('radio', { name: 'with figures' }).focus()
  // Two keys within 30 ms would be a scanner's.
  await type(page, ' ')
  await expect(page.getByRole('radio', { name: 'with figures' })).toBeChecked()
  await page.getByRole('link', { name: 'Print a sheet on paper' }).press('Enter')
  await expect(page.getByRole('img', { name: 'Page 1 of 1' }), 'looked at before it is printed').toBeVisible()
  await page.getByRole('button', { name: 'Print it' }).press('Enter')
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Sheet 1 is ready for the printer')
  const paper = page.getByRole('link', { name: 'Open the paper' })
  const got = await page.request.get(demo.url + (await paper.getAttribute('href')))
  expect([got.status(), got.headers()['content-type'], (await got.body()).subarray(0, 5).toString()]).toEqual([
    200,
    'application/pdf',
    '%PDF-',
  ])

  await page.keyboard.press('Alt+1')
  await scan(page, 'SVT01014')
  await expect(page.getByRole('heading', { level: 1 }), 'the code of a page leads to where it is entered').toHaveText(
    'Seal hide',
  )
  const first = page.locator('[data-row="0"]')
  await expect(first, 'first the time of the page').toBeDisabled()
  await page.getByLabel('Page 1 was counted: time').focus()
  await type(page, '2575')
  await expect(page.getByText('A time like 14:30')).toBeVisible()
  await expect(first, '2:57, read on the way there, is not what stands there').toBeDisabled()
  await page.getByLabel('Page 1 was counted: time').fill('')
  await page.getByLabel('Page 1 was counted: day').focus()
  await page.keyboard.press('Enter')
  await type(page, '10:59')
  await expect(first).toBeEnabled()
  await page.keyboard.press('Enter')
  await expect(first).toBeFocused()
  await type(page, 'many')
  await expect(page.getByText('“many” is no quantity. Type a number')).toBeVisible()
  await expect(page.getByText('0 of 13'), 'what cannot be read is not counted').toBeVisible()
  await first.fill('')
  await type(page, '=')
  await expect(first).toHaveAttribute('placeholder', 'as expected')
  await page.keyboard.press('Enter')
  await expect(page.locator('[data-row="1"]')).toBeFocused()
  await page.keyboard.press('ArrowUp')
  await expect(first).toBeFocused()
  const notebook = page.getByLabel(/Counted: Field notebook/)
  const before = Number(await onHand(page, demo, 'NOT-F', 'Seal hide'))
  await notebook.focus()
  await type(page, String(before - 1))
  await page.reload()
  await expect(notebook, 'kept, with its time').toHaveValue(String(before - 1))
  await expect(page.getByLabel('Page 1 was counted: time')).toHaveValue('10:59')
  await page.getByRole('button', { name: 'Take over the rest of this page as expected' }).press('Enter')
  await page.getByRole('button', { name: /^Review \d+ counted/ }).press('Enter')
  await page.getByLabel('Counted again: Field notebook').fill(String(before - 1))
  await page.getByRole('button', { name: 'Book 13 counted lines' }).press('Enter')
  await expect(page.getByText(/CT-\d+ is booked: count of Seal hide, 13 lines\. Next due 24 Feb 2027\./)).toBeVisible()
  expect(Number(await onHand(page, demo, 'NOT-F', 'Seal hide'))).toBe(before - 1)

  await scan(page, 'SVT01014')
  await expect(page.getByRole('alert'), 'not entered twice').toHaveText(/Sheet 1 was entered already, on CT-\d+/)
  await verified(page, demo)
})

test('a delivery: one line straight to a job, a note, a photograph of its paper; labels follow', async ({
  page,
  demo,
}) => {
  await signIn(page, demo, 'ines', 'Boat shed')
  await go(page, 2, /What arrived/)
  await page.getByLabel('Supplier', { exact: true }).fill('Tholebeck')
  const box = page.getByRole('combobox', { name: /Scan the next box/ })
  await box.focus()
  await type(page, 'impeller')
  await page.keyboard.press('Enter')
  await type(page, '2')
  const before = await onHand(page, demo, 'IMP-W', 'Boat shed')
  await page.getByLabel('Into which place: Water pump impeller').selectOption({ label: 'Launch Petrel, upkeep' })
  await page.getByLabel('Who gets it: Water pump impeller').fill('Wren')
  await page.getByRole('button', { name: 'Write a note on Water pump impeller' }).click()
  await page.getByLabel('Note on Water pump impeller').fill('spare for winter')
  await expect(page.getByText('goes straight to Launch Petrel, upkeep, Wren, never on the shelf')).toBeVisible()
  await page
    .locator('input[type=file]')
    .setInputFiles({ name: 'x.txt', mimeType: 'text/plain', buffer: Buffer.from('no picture') })
  await expect(page.getByRole('alert').filter({ hasText: 'no picture this device can read' })).toBeVisible()
  await page.locator('input[type=file]').setInputFiles('docs/screenshots/today.png')
  await expect(page.getByRole('button', { name: 'Look at the paper' })).toBeVisible()
  await page.getByRole('button', { name: /Another time/ }).click()
  await page.getByLabel('Happened: day').fill('31 feb')
  await page.keyboard.press('Control+Enter')
  await expect(
    page.getByText('“31 feb” (Happened: day) is no date. Type day month year.'),
    'booked as if nothing stood there',
  ).toBeVisible()
  await page.getByLabel('Happened: day').fill('')
  await expect(page.getByText('is no date')).toHaveCount(0)
  await page.getByLabel('Brought by').fill('the supply boat')
  await page.waitForTimeout(900)
  await page.reload()
  await expect(page.getByLabel('Note on Water pump impeller'), 'kept').toHaveValue('spare for winter')
  await expect
    .poll(
      () => page.locator('.thumb img').evaluate(i => (i as HTMLImageElement).naturalWidth),
      'the picture comes from the server now',
    )
    .toBeGreaterThan(100)
  await page.getByRole('button', { name: 'Book 1 line' }).click()
  await page.getByRole('button', { name: 'Print labels' }).click()
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(/Labels for what came on RC-\d+/)
  await expect(page.getByRole('img', { name: 'Page 1 of 1' })).toBeVisible()
  expect(await onHand(page, demo, 'IMP-W', 'Boat shed')).toBe(before)
  await page.goBack()
  await page.getByRole('link', { name: /^RC-/ }).first().click()
  await expect(page.getByText('for Wren · spare for winter')).toBeVisible()
  await expect(page.getByText(/the supply boat/)).toBeVisible()
  await page.getByRole('button', { name: 'Look at the paper' }).click()
  await expect(page.getByRole('img', { name: 'the paper' })).toBeVisible()
})

test('what a browser prints is for paper: light in the dark, nothing to press, whole, or said to go on', async ({
  page,
  demo,
}) => {
  await page.emulateMedia({ colorScheme: 'dark' })
  await signIn(page, demo, 'tova')
  const printed = async (): Promise<string[]> => (await textOf(new Uint8Array(await page.pdf({ format: 'A4' })))).flat()
  await page.goto(`${demo.url}/stock`)
  await expect(page.getByRole('row').nth(3)).toBeVisible()
  const stock = await printed()
  expect(stock.join(' ')).toMatch(/200 of \d+ lines: those the screen had read/)
  const listed = (await (await page.request.get(`${demo.url}/api/stock?limit=200&sort=name`)).json()) as {
    rows: { code: string }[]
  }
  const at = listed.rows.map(r => stock.findIndex(t => t.includes(r.code)))
  expect(at.indexOf(-1), 'each line that was read, also those that no screen shows at once').toBe(-1)
  await expect.poll(() => page.getByRole('row').count(), 'the screen shows what is in sight again').toBeLessThan(60)

  await page.getByRole('link', { name: 'Ledger' }).click()
  await page.getByRole('link', { name: /^IS-/ }).first().click()
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Issue to')
  const slip = await printed()
  expect(slip.join(' ')).toContain('Issue to')
  expect(slip.filter(t => /To the work|Take back|Replace|Print/.test(t))).toEqual([])
  await page.emulateMedia({ media: 'print', colorScheme: 'dark' })
  const ink = await page.getByRole('heading', { level: 1 }).evaluate(h => getComputedStyle(h).color)
  const [r, g, b] = ink.match(/\d+/g)!.map(Number)
  expect(r! + g! + b!, `letters of ${ink} on white`).toBeLessThan(200)
})
