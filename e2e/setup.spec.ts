import { followed } from './at-rest.ts'
import { expect, item, placeOf, scan, signIn, test, type, verified, isFor } from './stage.ts'

test('set-up by keyboard: a category hands down, an item is copied, found, retired and taken back into use', async ({
  page,
  demo,
}) => {
  await signIn(page, demo, 'tova', 'Wet lab')
  await page.goto(`${demo.url}/setup/categories`)
  await page.getByRole('button', { name: 'New category' }).press('Enter')
  await page.getByLabel('Name', { exact: true }).focus()
  await type(page, 'Stains')
  await page.getByLabel('Identified by').selectOption('lot_expiry')
  // What is no number is not taken for nothing.
  await page.getByLabel('Shelf life, days').fill('2 years')
  await page.getByRole('button', { name: 'Save category' }).press('Enter')
  await expect(page.getByText('Shelf life days: a number is wanted.')).toBeVisible()
  await page.getByLabel('Shelf life, days').fill('730')
  await page.getByRole('button', { name: 'Save category' }).press('Enter')
  await expect(page.getByRole('row', { name: /Stains/ })).toContainText('lot and expiry')
  // One within it says nothing itself: what stands above it is handed down through it.
  await page.getByRole('button', { name: 'New category' }).press('Enter')
  await page.getByLabel('Name', { exact: true }).fill('Powders')
  await page.getByLabel('Within').selectOption({ label: 'Stains' })
  await page.getByRole('button', { name: 'Save category' }).press('Enter')
  await expect(page.getByRole('row', { name: /Powders/ })).toBeVisible()

  await page.goto(`${demo.url}/setup/items/new`)
  await page.getByLabel(/^Name/).focus()
  await type(page, 'Methylene blue')
  await page.keyboard.press('Tab')
  await type(page, 'MBL')
  await page.getByLabel('Counted or measured in').fill('ml')
  await page.getByLabel(/^Category/).selectOption({ label: 'Powders' })
  await expect(page.getByLabel('Identified by').locator('option').first()).toHaveText('as the category')
  await page.getByLabel('Barcodes of one ml (scan them here)').focus()
  await scan(page, '9521234000014')
  await page.getByRole('button', { name: 'Make this item' }).press('Enter')
  await expect.poll(async () => (await item(page, demo, 'MBL'))?.id).toBeTruthy()
  const made = await item(page, demo, 'MBL')
  expect((made as unknown as { identifiedBy: string }).identifiedBy, 'as its category says').toBe('lot_expiry')

  await page.goto(`${demo.url}/setup/items/${made.id}`)
  await page.getByRole('link', { name: 'Copy it' }).press('Enter')
  await expect(page.getByLabel(/^Name/)).toHaveValue('Methylene blue (copy)')
  await page.getByLabel(/^Code/).fill('mbl')
  await page.getByRole('button', { name: 'Make this item' }).press('Enter')
  await expect(page.getByText(/The code mbl belongs to Methylene blue/)).toBeVisible()
  await page.getByLabel(/^Code/).fill('MBL-2')
  // A category that is not there yet is made from here.
  await page.getByLabel(/^Category/).selectOption('a new one …')
  await expect(page.getByLabel('Name of the new category')).toBeFocused()
  await type(page, 'Stains')
  await page.keyboard.press('Enter')
  await expect(page.getByText(/There is .*Stains.* already/)).toBeVisible()
  await page.getByLabel('Name of the new category').fill('Stains, blue')
  await page.keyboard.press('Enter')
  await expect(page.getByLabel(/^Category/)).toBeFocused()
  await expect(page.getByLabel(/^Category/).locator('option:checked')).toHaveText('Stains, blue')
  await page.getByLabel(/^Barcodes of one/).fill('')
  await page.getByRole('button', { name: 'Make this item' }).press('Enter')
  await expect.poll(async () => (await item(page, demo, 'MBL-2'))?.id).toBeTruthy()

  const copy = await item(page, demo, 'MBL-2')
  await page.goto(`${demo.url}/setup/items/${copy.id}`)
  await page.getByRole('button', { name: 'Retire item' }).press('Enter')
  await expect(page.getByText('It is retired; its history stays.')).toBeVisible()
  await page.goto(`${demo.url}/setup/items?active=no`)
  await page.getByRole('row', { name: /MBL-2/ }).getByRole('link').press('Enter')
  await page.getByRole('button', { name: 'Take it into use again' }).press('Enter')
  await expect(page.getByText('It is in use again.')).toBeVisible()
})

test('items come from a spreadsheet: looked at, put right, taken; another window has them; taken again nothing is doubled', async ({
  page,
  browser,
  demo,
}) => {
  await signIn(page, demo, 'tova', 'Wet lab')
  const other = await (await browser.newContext()).newPage()
  await signIn(other, demo, 'ines', 'Wet lab')
  await other.goto(`${demo.url}/stock?q=STA-G`)
  await expect(other.getByText('Nothing fits')).toBeVisible()

  await page.goto(`${demo.url}/setup/items`)
  await page.getByRole('link', { name: 'From a spreadsheet' }).press('Enter')
  // As a spreadsheet saves it where the decimal mark is a comma, in one-byte letters.
  const file = (unit: string) => ({
    name: 'items.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(
      `code;name;unit;identified by;minimum;target;there now;lot;one cost\nSTA-G;Stain, gr\u00fcn;${unit};lot;2;8;5;G1;12,50\nGLV-M;;;;;;3;;\n`,
      'latin1',
    ),
  })
  await page.getByLabel('A file').setInputFiles(file(''))
  await expect(page.getByLabel('or its text')).toHaveValue(/Stain, grün/)
  await page.getByRole('button', { name: 'Look at it' }).press('Enter')
  await expect(page.getByRole('alert')).toContainText('Line 2: In what is it counted or measured?')
  await page.getByLabel('A file').setInputFiles(file('vial'))
  await expect(page.getByRole('alert')).toHaveCount(0)
  await page.getByRole('button', { name: 'Look at it' }).press('Enter')
  await expect(page.getByText('What would come of it: 1 new, 1 as it was.')).toBeVisible()
  await expect(page.getByText('What lies there is booked with it: 1 line in Wet lab.')).toBeVisible()
  await expect(page.getByText('What lies there of one that is known is not changed by a file')).toBeVisible()
  expect(await item(page, demo, 'STA-G'), 'nothing was written').toBeUndefined()
  await page.getByRole('button', { name: 'Take 1 item' }).press('Enter')
  await expect(page.getByText('Taken: 1 new, 1 as it was.')).toBeVisible()
  await expect(other.getByRole('row', { name: /Stain, grün/ })).toContainText('5')
  await page.getByRole('button', { name: 'Look at it' }).press('Enter')
  await expect(page.getByText('What would come of it: 2 as they were.')).toBeVisible()
  expect(await verified(page, demo)).toEqual([])
})

test('a bin, a level, a job and a keeper are made, and used at once in another window', async ({
  page,
  browser,
  demo,
}) => {
  await signIn(page, demo, 'tova', 'Wet lab')
  const other = await (await browser.newContext()).newPage()
  await signIn(other, demo, 'ines', 'Wet lab')
  await other.goto(`${demo.url}/issue`)

  await page.goto(`${demo.url}/setup/places`)
  await page
    .getByRole('row', { name: /^Wet lab/ })
    .getByRole('button', { name: 'New bin here' })
    .click()
  await page.getByLabel('Name', { exact: true }).fill('C9')
  await page.getByRole('button', { name: 'Make this place' }).click()
  await expect(page.getByRole('cell', { name: 'C9', exact: true })).toBeVisible()
  await page.goto(`${demo.url}/setup/lists`)
  await page.getByLabel('Code of the job').fill('OTT')
  await page.getByLabel('Name of the job').fill('Otter spraints')
  await page.locator('section', { hasText: 'What things are used for' }).getByRole('button', { name: 'Add' }).click()
  await expect(page.getByText('Otter spraints')).toBeVisible()

  const gloves = await item(page, demo, 'GLV-M')
  await page.goto(`${demo.url}/items/${gloves.id}`)
  await page.getByRole('button', { name: 'Change the levels in Wet lab' }).click()
  await page.getByLabel('Minimum').fill('9999')
  await page.getByLabel('Target').fill('5')
  await page.getByRole('button', { name: 'Save levels' }).click()
  await expect(page.getByRole('alert')).toContainText('the target is not below the minimum')
  await page.getByLabel('Target').fill('10000')
  await page.getByLabel('Usual bin').selectOption({ label: 'Wet lab, C9' })
  // What somebody else set meanwhile is said first; what was typed stays, and takes its place once it is saved again.
  const meanwhile = { item: gloves.id, place: await placeOf(page, demo, 'Wet lab'), minimum: '40', target: '90' }
  expect((await page.request.put(`${demo.url}/api/levels`, { data: meanwhile })).ok()).toBe(true)
  await page.getByRole('button', { name: 'Save levels' }).click()
  await expect(page.getByRole('alert')).toContainText('Somebody changed this meanwhile;')
  await expect(page.getByRole('alert')).toContainText('Now it is 40 to 90.')
  await expect(page.getByLabel('Minimum')).toHaveValue('9999')
  await page.getByRole('button', { name: 'Save levels' }).click()
  await expect(page.getByRole('row', { name: /^Wet lab/ })).toContainText('Short')
  await page.goto(`${demo.url}/receive`)
  await expect(page.getByRole('heading', { name: 'What arrived' })).toBeVisible()
  await scan(page, gloves.codes[0]!)
  await expect(
    page.getByLabel('Into which place: Nitrile gloves, medium').locator('option').first(),
    'the usual bin is proposed',
  ).toHaveText('C9')

  await other.goto(`${demo.url}/issue`)
  await isFor(other, 'Otter spraints')
  await scan(other, gloves.codes[0]!)
  await expect(other.getByLabel('Remove Nitrile gloves, medium')).toBeVisible()
  await expect(other.getByText(/saved \d/)).toBeVisible()

  // Taken out of use it is offered no more, but is called by its name where something was for it; and is found to be used again.
  await page.goto(`${demo.url}/setup/lists`)
  await page.getByRole('button', { name: 'Take Otter spraints out of use' }).click()
  await expect(page.getByText(/not in use any more/)).toBeVisible()
  await expect(page.getByText('Otter spraints')).toHaveCount(0)
  await other.reload()
  await expect(other.getByLabel(/^For/)).toHaveValue('Otter spraints')
  await other.context().close()
  await page.getByRole('button', { name: 'Show them' }).press('Enter')
  await page.getByLabel('Find a job that is not in use').fill('otter')
  await page.getByRole('button', { name: 'Change Otter spraints' }).press('Enter')
  await page.getByLabel('Name of the job').first().fill('Otter tracks')
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: 'Take Otter tracks into use again' }).press('Enter')
  await expect(page.getByRole('button', { name: 'Take Otter tracks out of use' })).toBeVisible()

  await page.goto(`${demo.url}/setup/people`)
  await page.getByLabel('Name', { exact: true }).fill('Wren Holt')
  await page.getByLabel('Signs in as').fill('wren')
  await page.getByLabel('First password').fill('long enough')
  await page.getByRole('button', { name: /^Add/ }).click()
  await expect(page.getByRole('row', { name: /Wren Holt/ })).toBeVisible()
  const fresh = await (await browser.newContext()).newPage()
  await fresh.goto(`${demo.url}/sign-in`)
  await fresh.getByLabel('You sign in as').fill('wren')
  await fresh.getByLabel('Password').fill('wrong one')
  await fresh.keyboard.press('Enter')
  await expect(fresh.getByText('That name and password do not belong together.')).toBeVisible()
  await fresh.getByLabel('Password').fill('long enough')
  await fresh.keyboard.press('Enter')
  await fresh.waitForURL(u => u.pathname === '/')
  const atRest = followed(fresh)
  await fresh.goto(`${demo.url}/setup/items`)
  await atRest()
  await expect(fresh.getByRole('link', { name: 'New item' }), 'a keeper does not set up').toHaveCount(0)
  await fresh.context().close()
})

test('a cost method is changed on its own: looked at before it is booked, and the value stays', async ({
  page,
  demo,
}) => {
  await signIn(page, demo, 'tova')
  const gloves = await item(page, demo, 'GLV-M')
  await page.goto(`${demo.url}/setup/items/${gloves.id}`)
  await page.getByText('More: cost').click()
  await expect(page.getByText('moving average')).toBeVisible()
  await page.getByRole('button', { name: 'Change it' }).press('Enter')
  await page.getByLabel('From now on').selectOption({ label: 'first in, first out' })
  await expect(page.getByText(/Cost of one: .* value of stock stays/)).toBeVisible()
  await page.getByRole('button', { name: 'Change the method' }).press('Enter')
  await expect(page.getByText(/is costed by first in, first out from now on: CM-\d+/)).toBeVisible()
  expect(await verified(page, demo)).toEqual([])
  // A new item that is costed by a standard is asked for it.
  await page.goto(`${demo.url}/setup/items/new`)
  await page.getByLabel(/^Name/).fill('Rivet')
  await page.getByLabel(/^Code/).fill('RVT')
  await page.getByLabel('Counted or measured in').fill('each')
  await page.getByText('More: cost').click()
  await page.getByLabel('Cost method').selectOption('standard')
  await page.getByRole('button', { name: 'Make this item' }).press('Enter')
  await expect(page.getByText('What does one cost? Its method is a standard cost.')).toBeVisible()
  await page.getByLabel('Standard cost of one each').fill('0,25')
  await page.getByRole('button', { name: 'Make this item' }).press('Enter')
  await expect(page.getByText('Rivet is saved.')).toBeVisible()
})

test('where somebody’s own colours are set, what is chosen is still told from the rest', async ({ page, demo }) => {
  await page.emulateMedia({ forcedColors: 'active' })
  await signIn(page, demo, 'tova')
  await page.goto(`${demo.url}/setup/cards`)
  const chosen = [
    page.getByRole('button', { name: 'Commands and digits', pressed: true }),
    page.getByRole('link', { name: 'Cards and scanner' }),
    page.getByRole('navigation', { name: 'Works' }).getByRole('link', { name: 'Set-up' }),
  ]
  for (const what of chosen) await expect(what).toHaveCSS('outline-style', 'solid')
  for (const name of ['Places', 'Jobs and cost centres'])
    await expect(page.getByRole('button', { name, pressed: false })).toHaveCSS('outline-style', 'none')
})

test('a name that somebody else changed meanwhile is told before it is changed again; what is pressed twice is done once', async ({
  page,
  browser,
  demo,
}) => {
  await signIn(page, demo, 'tova', 'Wet lab')
  const other = await (await browser.newContext()).newPage()
  await signIn(other, demo, 'tova', 'Wet lab')
  for (const p of [page, other]) await p.goto(`${demo.url}/setup/lists`)
  const name = (p: typeof page) => p.getByLabel('Name of the supplier')
  await page.getByRole('button', { name: 'Change Quillfern' }).press('Enter')
  await name(page).fill('Quillfern, east')
  await other.getByRole('button', { name: 'Change Quillfern' }).press('Enter')
  await name(other).fill('Quillfern and daughters')
  await name(other).press('Enter')
  await expect(other.getByText('Quillfern and daughters')).toBeVisible()
  // What is being typed here stays, though the list came anew.
  await expect(name(page)).toHaveValue('Quillfern, east')
  await name(page).press('Enter')
  await expect(page.getByRole('alert')).toHaveText(
    'Somebody changed this meanwhile; saved once more, yours takes its place. Now it is Quillfern and daughters.',
  )
  await name(page).press('Enter')
  await expect(other.getByText('Quillfern, east')).toBeVisible()
  await page.getByRole('button', { name: 'Take Quillfern, east out of use' }).dblclick()
  await expect(other.getByText('Quillfern, east · not in use')).toBeVisible()
  await expect(page.getByRole('button', { name: 'Take Quillfern, east into use again' })).toBeVisible()
  await expect(page.getByRole('alert')).toHaveCount(0)
})
