import { expect, go, heldBack, isFor, item, listenedTo, onHand, scan, signIn, test, verified } from './stage.ts'

test('a whole round by scanner alone, with the printed cards', async ({ page, demo }) => {
  await signIn(page, demo, 'tova')
  const get = async <T>(path: string): Promise<T> => (await page.request.get(`${demo.url}${path}`)).json() as Promise<T>
  type Own = { rows: { name: string; own: string; path?: string }[] }
  const card = async (path: string, name: string) => (await get<Own>(path)).rows.find(r => r.name === name)!.own
  const lab = await card('/api/places', 'Wet lab')
  const gloves = await item(page, demo, 'GLV-M')
  const agar = await item(page, demo, 'AGR-M')
  const before = await onHand(page, demo, 'GLV-M')

  // Where I work, then a delivery: supplier's card, an item twice, and a lot with its date in one GS1 code.
  await scan(page, 'SVC-RECEIVE')
  await scan(page, lab)
  await expect(page.getByLabel('Where I am working')).toHaveValue(/.+/)
  await scan(page, await card('/api/suppliers', (await get<Own>('/api/suppliers')).rows[0]!.name))
  await scan(page, gloves.codes[0]!)
  await scan(page, gloves.codes[0]!)
  await expect(page.getByLabel('Arrived: Nitrile gloves, medium')).toHaveValue('2')
  await scan(page, 'SVC-3')
  await scan(page, 'SVC-0')
  await expect(page.getByLabel('Arrived: Nitrile gloves, medium')).toHaveValue('30')
  await scan(page, `01${agar.codes[0]!.padStart(14, '0')}17270630` + '10SCAN7')
  await expect(page.getByLabel(/^Lot.*Agar plates, marine/)).toHaveValue('SCAN7')
  await scan(page, 'SVC-BOOK')
  await expect(page.getByText(/RC-\d+ is booked: 2 lines/)).toBeVisible()
  expect(await onHand(page, demo, 'GLV-M')).toBe(before + 30)

  // Out to a job; a wrong code is left be; taken back, since it was the wrong shelf.
  await scan(page, 'SVC-ISSUE')
  await scan(page, await card('/api/jobs', 'Nitrate run'))
  await scan(page, '9529990000018')
  await expect(page.getByRole('dialog')).toContainText('Nobody knows this code yet')
  await scan(page, 'SVC-BACK')
  await expect(page.getByRole('dialog')).toHaveCount(0)
  await scan(page, gloves.codes[0]!)
  await scan(page, 'SVC-4')
  await scan(page, 'SVC-BOOK')
  await expect(page.getByText(/IS-\d+ is booked/)).toBeVisible()
  expect(await onHand(page, demo, 'GLV-M')).toBe(before + 26)
  await scan(page, 'SVC-TAKE_BACK')
  await expect(page.getByText(/is taken back by CR-\d+/)).toBeVisible()
  expect(await onHand(page, demo, 'GLV-M')).toBe(before + 30)

  // One to waste, with the reason's card.
  await scan(page, 'SVC-WASTE')
  await scan(page, await card('/api/waste-reasons', 'Damaged'))
  await scan(page, gloves.codes[0]!)
  await scan(page, 'SVC-BOOK')
  await expect(page.getByText(/WA-\d+ is booked/)).toBeVisible()

  // A count: the place's card begins the sheet; one line, far off, counted twice.
  await scan(page, 'SVC-COUNT')
  await scan(page, lab)
  await expect(page.getByRole('dialog').or(page.getByText(/0 of \d+/))).toBeVisible()
  if (await page.getByRole('dialog').count()) await scan(page, 'SVC-NEXT')
  await expect(page.getByText(/0 of \d+/)).toBeVisible()
  await scan(page, gloves.codes[0]!)
  await scan(page, 'SVC-1')
  await scan(page, 'SVC-2')
  await scan(page, 'SVC-NEXT')
  await scan(page, 'SVC-BOOK')
  await expect(page.getByText('1 line is far off')).toBeVisible()
  await scan(page, 'SVC-1')
  await scan(page, 'SVC-2')
  await expect(page.getByText('1 line is far off')).toHaveCount(0)
  await scan(page, 'SVC-BOOK')
  await expect(page.getByText(/CT-\d+ is booked/)).toBeVisible()
  expect(await onHand(page, demo, 'GLV-M')).toBe(12)
  expect(await verified(page, demo)).toEqual([])
})

test('the scanner test says what arrives, and uses none of it', async ({ page, demo }) => {
  await signIn(page, demo, 'tova', 'Wet lab')
  await page.goto(`${demo.url}/setup/cards`)
  await expect(page.getByRole('img', { name: 'Barcode SVC-BOOK' }).first()).toBeVisible()
  const sent = page.getByRole('status').filter({ hasText: 'signs' })
  await scan(page, '010952012345678810AZ-QWYM/7\x1d21S1')
  await expect(sent).toContainText('separators between elements arrive')
  await expect(sent).toContainText('ends with Enter')
  await expect(sent).toContainText('the layout fits')
  await scan(page, '010952012345678810AY-QWZM-721S1')
  await expect(sent).toContainText('letters or marks were exchanged')
  await expect(sent).toContainText('separators are lost')
  await scan(page, 'SVC-RECEIVE')
  await expect(page).toHaveURL(/setup\/cards/)
  await page.getByRole('button', { name: 'Places' }).click()
  await expect(page.getByText('Wet lab, B3')).toBeVisible()
})

test('an Enter right after a scan and another key is no second end of that scan: it does what it does', async ({
  page,
  demo,
}) => {
  await signIn(page, demo, 'ines', 'Wet lab')
  const gloves = await item(page, demo, 'GLV-M')
  await go(page, 3, 'What is handed out')
  await isFor(page, 'Nitrate run')
  await scan(page, gloves.codes[0]!)
  await expect(page.getByLabel('Handed out: Nitrile gloves, medium')).toBeFocused()
  // As quick as no hand is; on a slow machine it comes later than a scanner's second Enter would.
  await scan(page, gloves.codes[0]!)
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('Enter')
  await expect(page.locator('[data-add] input')).toBeFocused()
  await expect(page.getByLabel('Handed out: Nitrile gloves, medium')).toHaveValue('2')
})

test('each scan books at once: for the same, one after the other; what was booked stays on the screen and is taken back', async ({
  page,
  demo,
}) => {
  await listenedTo(page)
  await signIn(page, demo, 'tova', 'Wet lab')
  const wipes = await item(page, demo, 'WIP-D')
  const before = await onHand(page, demo, 'WIP-D')
  await page.goto(`${demo.url}/issue`)
  await page.getByLabel('Book each scan at once').check()
  await isFor(page, 'Nitrate run')
  await page.getByLabel('For', { exact: true }).blur()
  const comes = await heldBack(page, '**/booking')
  const asked = page.waitForRequest('**/booking')
  await scan(page, wipes.codes[0]!)
  await asked
  // The next scan begins while this one is being booked: its keys, or anybody's, are no part of what is booked.
  const line = page.getByLabel('Handed out: Lint-free wipes')
  await line.focus()
  await line.evaluate(field => field.addEventListener('input', () => field.setAttribute('data-typed', '')))
  await scan(page, wipes.codes[0]!)
  expect(await line.getAttribute('data-typed')).toBeNull()
  await line.fill('9')
  comes()
  const booked = page.getByRole('listitem').filter({ hasText: 'Lint-free wipes 1 pack' })
  await expect(booked).toHaveCount(2)
  await scan(page, wipes.codes[0]!)
  await expect(booked).toHaveCount(3)
  expect(await onHand(page, demo, 'WIP-D')).toBe(before - 3)
  await booked.first().getByRole('button', { name: 'Take it back' }).press('Enter')
  await expect(booked.first()).toContainText('taken back by CR-')
  expect(await onHand(page, demo, 'WIP-D')).toBe(before - 2)
  // What cannot be booked stays on the slip, and says why; a place on this device it is as it was left.
  await page.getByLabel('For', { exact: true }).fill('')
  await page.reload()
  await expect(page.getByLabel('Book each scan at once')).toBeChecked()
  await scan(page, wipes.codes[0]!)
  await expect(page.getByRole('alert').filter({ hasText: 'Who or what is it for?' })).toBeVisible()
  await page.getByLabel('Book each scan at once').uncheck()
  // The same once more, from the slip that was booked.
  await page.goto(`${demo.url}/ledger?kind=issue`)
  await page.locator('tbody tr a').first().click()
  await page.getByRole('button', { name: 'Write the same again' }).press('Enter')
  await expect(page.getByLabel('Handed out: Lint-free wipes')).toHaveValue('1')
  await page.keyboard.press('Control+Enter')
  await expect(page.getByText(/IS-\d+ is booked/)).toBeVisible()
  expect(await onHand(page, demo, 'WIP-D')).toBe(before - 3)
})
