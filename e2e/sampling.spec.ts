// A protocol whose reagents are made the day before: from the bottle of ethanol to the stations; and what wilted is thrown away.
import type { Page } from '@playwright/test'
import { expect, go, onHand, signIn, test, type, verified } from './stage.ts'

const booked = (page: Page, what: RegExp) => expect(page.getByRole('status').filter({ hasText: what })).toBeVisible()
/** Chooses a lot among those that lie here. */
async function chooseLot(page: Page, name: string, code: string): Promise<void> {
  const field = page.getByLabel(`Lot of ${name}`)
  const lot = field.locator('option', { hasText: code })
  await expect(lot).toHaveCount(1)
  await field.selectOption((await lot.getAttribute('value'))!)
}

test('water is sampled with a wash made the day before, of an ethanol made before that; the run is found from its bottle', async ({
  page,
  browser,
  demo,
}) => {
  await signIn(page, demo, 'ines', 'Wet lab')
  const tova = await (await browser.newContext()).newPage()
  await signIn(tova, demo, 'tova', 'Wet lab')
  // The rinsing ethanol is due tomorrow: its bottle gets a lot of ours.
  await page.getByRole('listitem').filter({ hasText: 'Rinsing ethanol' }).getByRole('link').press('Enter')
  await page.getByRole('button', { name: 'Make', exact: true }).press('Enter')
  await expect(page.getByLabel('Made: Rinsing ethanol 70 %')).toHaveValue('2.5')
  await page.getByLabel('Lot of Rinsing ethanol 70 %').fill('RE-90')
  await page.keyboard.press('Control+Enter')
  await booked(page, /MA-\d+ is booked: 2 lines/)
  await expect(page.getByText('done', { exact: true })).toBeVisible()
  // Of that the wash, by a job of its own.
  await page.goto(`${demo.url}/jobs`)
  await page.getByRole('button', { name: 'New job' }).press('Enter')
  await page.getByRole('combobox', { name: 'By', exact: true }).selectOption({ label: 'Probe wash' })
  await page.getByLabel('For how much').fill('1')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Probe wash')
  await page.getByRole('button', { name: 'Make', exact: true }).press('Enter')
  await page.getByLabel('Lot of Probe wash').fill('PW-90')
  await chooseLot(page, 'Rinsing ethanol 70 %', 'RE-90')
  await page.keyboard.press('Control+Enter')
  await booked(page, /MA-\d+ is booked: 3 lines/)
  // The run: what is here is handed out, with that wash.
  await page.goto(`${demo.url}/jobs`)
  await page.getByRole('link', { name: 'Water sampling, four stations' }).press('Enter')
  const wash = page.getByRole('row').filter({ hasText: 'Probe wash' })
  await expect(wash).toContainText('Here')
  await page.getByRole('button', { name: 'Hand out what is here' }).press('Enter')
  await expect(page.getByLabel('Handed out: Probe wash')).toHaveValue(/^26[67]|^0\.26/)
  await chooseLot(page, 'Probe wash', 'PW-90')
  await page.keyboard.press('Control+Enter')
  await expect(page.getByText(/IS-\d+ is booked/)).toBeVisible()
  await expect(wash).toContainText('all taken')
  // From the bottle it is one look to whoever used what was made of it.
  await tova.getByRole('combobox', { name: 'Scan or search' }).fill('RE-90')
  await tova.getByRole('option', { name: /RE-90/ }).click()
  const made = tova.getByRole('region', { name: 'Through all makes' })
  await expect(made.getByRole('link', { name: 'PW-90' })).toBeVisible()
  await expect(made.getByRole('listitem').filter({ hasText: 'PW-90' }).filter({ hasText: 'used by' })).toContainText(
    'Water sampling',
  )
  expect(await verified(tova, demo)).toEqual([])
})

test('what a job lacks is brought from where else it lies, with both shelves seen; then one is back at the job', async ({
  page,
  demo,
}) => {
  await signIn(page, demo, 'tova')
  await page.goto(`${demo.url}/jobs`)
  await page.getByRole('link', { name: 'Water sampling, four stations' }).press('Enter')
  const vials = page.getByRole('row').filter({ hasText: 'Sample vial 20 ml' })
  await expect(vials).toContainText('Missing 40')
  await vials.getByRole('button', { name: 'Bring Sample vial 20 ml from Seal hide' }).press('Enter')
  // The hide has no more than that: it will have none, and says so before it is booked.
  const shelf = page.getByRole('region', { name: 'What the shelf will look like' })
  await expect(shelf.getByLabel('On hand after, Sample vial 20 ml: how it is worked out')).toHaveText('13')
  const hide = shelf.getByRole('group', { name: 'Sample vial 20 ml, taken from Seal hide' })
  await expect(hide).toContainText(/13 → 0/)
  await expect(hide).toContainText(/Short\s*→\s*Out/)
  await hide.getByLabel(/^On hand after/).press('Enter')
  await expect(page.getByRole('dialog')).toContainText(/this slip[^]*−13/)
  await page.keyboard.press('Escape')
  await page.keyboard.press('Control+Enter')
  await booked(page, /MV-\d+ is booked: 1 line/)
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Water sampling')
  // Of fifty-three thirteen lay somewhere: forty lie nowhere, before as after.
  await expect(vials).toContainText('Missing 40')
  await expect(vials.getByRole('button', { name: /^Bring/ })).toHaveCount(0)
  expect(await verified(page, demo)).toEqual([])
})

test('vegetables that wilted are thrown away: seen before it is booked; the year tells it by reason and thing, down to the slip', async ({
  page,
  demo,
}) => {
  await signIn(page, demo, 'ruben', 'Galley')
  const carrots = await onHand(page, demo, 'CAR-O', 'Galley')
  await go(page, 5, 'What is wasted')
  await page.getByLabel('Why, for all lines').focus()
  await type(page, 'Spo')
  await page.keyboard.press('Enter')
  for (const [name, quantity] of [
    ['Carrots', '1.25'],
    ['Onions', '0.5'],
  ] as const) {
    await page
      .getByPlaceholder(/^Scan or type/)
      .last()
      .focus()
    await type(page, name)
    await page.keyboard.press('Enter')
    await expect(page.getByLabel(`Wasted: ${name}`)).toBeFocused()
    await type(page, quantity)
  }
  await expect(page.getByText(/−€[\d .\u202f]+\d\d\s*of stock/)).toBeVisible()
  await page.keyboard.press('Control+Enter')
  await booked(page, /WA-\d+ is booked/)
  const number = /WA-\d+/.exec((await page.getByRole('status').filter({ hasText: 'is booked' }).textContent())!)![0]
  expect(carrots - (await onHand(page, demo, 'CAR-O', 'Galley'))).toBeCloseTo(1.25, 6)
  await page.goto(`${demo.url}/look-back/waste`)
  await page.getByRole('table', { name: 'Why' }).getByRole('link', { name: 'Spoiled' }).press('Enter')
  await expect(page.getByRole('link', { name: number })).toBeVisible()
})
