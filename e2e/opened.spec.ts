// A bottle is opened, stands among the open ones with what is left and who used it last, is weighed, and its rest is wasted.
import { expect, isFor, item, placeOf, scan, signIn, test, verified } from './stage.ts'

test('a bottle is opened with the scanner, weighed after use, and its rest thrown away', async ({
  page,
  browser,
  demo,
}) => {
  await signIn(page, demo, 'ines', 'Wet lab')
  const acid = await item(page, demo, 'HCL-37')
  // Somebody else looks at the open ones meanwhile.
  const other = await (await browser.newContext()).newPage()
  await signIn(other, demo, 'tova', 'Wet lab')
  await other.goto(`${demo.url}/lots?opened=true`)
  const open = other.getByRole('table', { name: 'Lots' }).getByRole('row').filter({ hasText: 'Hydrochloric' })
  await expect(open).toHaveCount(1)
  await expect(open).toContainText('Mirja')
  await expect(open).toContainText('0.85')

  await page.goto(`${demo.url}/open`)
  await expect(page.getByRole('heading', { name: 'What is opened' })).toBeVisible()
  await scan(page, acid.codes[0]!)
  const line = page.getByRole('table', { name: 'What is opened' })
  await expect(page.getByLabel('In it: Hydrochloric acid')).toHaveValue('1')
  await expect(page.getByLabel('Unit of Hydrochloric acid')).toHaveValue('bottle')
  // What it will be called and how long it keeps is said before it is booked.
  await expect(page.getByLabel('What the container of Hydrochloric acid')).toHaveAttribute('placeholder', /\/2$/)
  await page.getByRole('button', { name: 'Its weight' }).press('Enter')
  await page.getByLabel('Weighed: Hydrochloric acid').selectOption('full')
  await page.getByLabel('What the container of Hydrochloric acid 37 % weighs').fill('1 kg')
  await page.keyboard.press('Control+Enter')
  await expect(line.getByText('is less than what is in it weighs')).toBeVisible()
  await page.getByLabel('What the container of Hydrochloric acid 37 % weighs').fill('1590')
  await page.keyboard.press('Control+Enter')
  await expect(page.getByText(/OC-\d+ is booked: 1 line/)).toBeVisible()
  await expect(open).toHaveCount(2)

  // After use it is put on the scale: 1 590 g full with 1 180 g in it, 1 000 g now: 0.5 L are left.
  await other.getByRole('row').filter({ hasText: 'not yet' }).getByRole('link').first().press('Enter')
  await expect(other.getByText('empty it weighs 410 g')).toBeVisible()
  await other.getByLabel('It weighs now').fill('400 g')
  await expect(other.getByText('That is lighter than it is empty (410 g).')).toBeVisible()
  await other.getByLabel('It weighs now').fill('1 kg')
  await expect(other.getByText('0.5 L used')).toBeVisible()
  await isFor(other, 'Seabird survey', /^It was used for/)
  await other.getByLabel('By whom').fill('Wren')
  await other.getByLabel('By whom').press('Enter')
  await expect(other.getByText(/IS-\d+ is booked: 0.5 L of/)).toBeVisible()
  await expect(other.getByText('Tova Brand, Wren')).toBeVisible()

  // Counted, it is put on the scale likewise: 940 g are 449.153 ml by the density of 1.18, read as the item is counted.
  const { rows } = (await (await page.request.get(`${demo.url}/api/items/${acid.id}/lots`)).json()) as {
    rows: { id: string; code: string; quantity: string }[]
  }
  const bottle = rows.find(l => l.quantity === '0.5' && l.code.endsWith('/2'))!
  const { places } = (await (await page.request.get(`${demo.url}/api/lots/${bottle.id}`)).json()) as {
    places: { place: string }[]
  }
  const from = places[0]!.place
  const count = crypto.randomUUID()
  const line2 = { id: crypto.randomUUID(), item: acid.id, from, lot: { id: bottle.id, code: bottle.code } }
  const begun = await page.request.put(`${demo.url}/api/slips/${count}`, {
    data: { kind: 'count', place: await placeOf(page, demo, 'Wet lab'), head: { blind: false }, lines: [line2] },
  })
  expect(begun.ok()).toBe(true)
  await page.goto(`${demo.url}/count/${count}`)
  await page.getByLabel('It weighs now').fill('heavy')
  await expect(page.getByText('Type a weight, like 812 g.')).toBeVisible()
  await page.getByLabel('It weighs now').fill('400 g')
  await expect(page.getByText('That is lighter than it is empty (410 g).')).toBeVisible()
  await page.getByLabel('It weighs now').fill('940 g')
  await expect(page.getByRole('button', { name: '0.449 L left: take that' })).toBeVisible()
  await page.getByLabel('It weighs now').press('Enter')
  await expect(page.getByRole('table').getByText('0.449')).toBeVisible()
  await other.getByRole('button', { name: 'Waste the rest' }).press('Enter')
  await expect(other.getByLabel('Wasted: Hydrochloric acid')).toHaveValue('0.5')
  await other.getByLabel('Why: Hydrochloric acid').selectOption({ label: 'Spilled' })
  await other.keyboard.press('Control+Enter')
  await expect(other.getByText(/WA-\d+ is booked/)).toBeVisible()
  await verified(page, demo)
})
