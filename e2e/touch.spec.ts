import { devices } from '@playwright/test'
import { countHere, expect, item, onHand, signIn, test, verified, isFor } from './stage.ts'

const { defaultBrowserType: _, ...tablet } = devices['iPad (gen 7)']!
test.use({ ...tablet, viewport: { width: 820, height: 1180 }, hasTouch: true, isMobile: false })

test('the whole day by fingers alone, on a tablet', async ({ page, demo }) => {
  await signIn(page, demo, 'tova', 'Wet lab')
  const before = await onHand(page, demo, 'GLV-M')
  const works = page.getByRole('navigation', { name: 'Works, at the bottom' })
  const pad = (...keys: string[]) =>
    keys.reduce(
      (done, k) => done.then(() => page.locator('.pad').getByRole('button', { name: k, exact: true }).tap()),
      Promise.resolve(),
    )
  const pick = async (words: string, name: string) => {
    await page.getByRole('combobox', { name: /Scan or type|Scan the next/ }).fill(words)
    await page
      .getByRole('option', { name: new RegExp(name) })
      .first()
      .tap()
  }

  // A delivery, the number by the pad: two cases and three.
  const open = async (work: string, heading: RegExp) => {
    await works.getByRole('link', { name: work }).tap()
    await expect(page.getByRole('heading', { name: heading, level: 1 })).toBeVisible()
  }
  await open('Receive', /What arrived/)
  await page.getByLabel('Supplier').fill('Quillfern')
  await pick('nitrile gloves, m', 'Nitrile gloves, medium')
  const quantity = page.getByLabel('Arrived: Nitrile gloves, medium')
  await expect(quantity, 'the soft keyboard stays away').toHaveAttribute('inputmode', 'none')
  await pad('Clear', '2')
  await page.locator('.pad').getByRole('button', { name: /^case/ }).tap()
  await pad('3')
  await expect(quantity).toHaveValue('2 case + 3')
  await page.getByLabel('Unit of Nitrile gloves, medium').selectOption({ index: 0 })
  await expect(quantity, 'choosing another unit keeps what is typed').toHaveValue('2 case + 3')
  await expect(page.getByText(`${before} → ${before + 23} box`)).toBeVisible()
  await page.getByRole('button', { name: 'Book 1 line' }).tap()
  await expect(page.getByText(/RC-\d+ is booked/)).toBeVisible()

  // Issued, too much of it, and brought back.
  await open('Issue', /What is handed out/)
  await isFor(page, 'Nitrate run')
  await pick('nitrile gloves, m', 'Nitrile gloves, medium')
  await pad('Clear', '9')
  await page.getByRole('button', { name: 'Book 1 line' }).tap()
  await expect(page.getByText(/IS-\d+ is booked/)).toBeVisible()
  await page.getByRole('link', { name: 'Bring back' }).tap()
  await expect(page.getByRole('heading', { name: 'What comes back' })).toBeVisible()
  await isFor(page, 'Nitrate run', /^From/)
  await pick('nitrile gloves, m', 'Nitrile gloves, medium')
  await pad('Clear', '4')
  await page.getByRole('button', { name: 'Book 1 line' }).tap()
  await expect(page.getByText(/BB-\d+ is booked/)).toBeVisible()
  expect(await onHand(page, demo, 'GLV-M')).toBe(before + 18)

  // Moved to another bin, one of them wasted.
  await open('Move', /What moves/)
  await pick('nitrile gloves, m', 'Nitrile gloves, medium')
  await pad('Clear', '5')
  await page.getByLabel('Into which place: Nitrile gloves, medium').selectOption({ label: 'A1' })
  await page.getByRole('button', { name: 'Book 1 line' }).tap()
  await expect(page.getByText(/MV-\d+ is booked/)).toBeVisible()
  await open('Waste', /What is wasted/)
  await page.getByLabel('Why, for all lines').selectOption({ label: 'Damaged' })
  await pick('nitrile gloves, m', 'Nitrile gloves, medium')
  await page
    .getByLabel('From which place: Nitrile gloves, medium')
    .or(page.getByLabel('Wasted: Nitrile gloves, medium'))
    .first()
    .tap()
  await pad('Clear', '1')
  await page.getByRole('button', { name: 'Book 1 line' }).tap()
  await expect(page.getByText(/WA-\d+ is booked/)).toBeVisible()
  expect(await onHand(page, demo, 'GLV-M')).toBe(before + 17)

  // Counted line by line: one as expected, one skipped, one not there, one put right on the way back.
  await open('Count', /Which area is counted/)
  await page.getByText('with figures').tap()
  await countHere(page, 'Wet lab').tap()
  const dialog = page.getByRole('dialog')
  if (await dialog.isVisible()) await dialog.getByRole('button', { name: 'Count all the same' }).tap()
  await expect(page.getByText(/0 of \d+/)).toBeVisible()
  await pad('As expected')
  await expect(page.getByText(/1 of \d+/)).toBeVisible()
  await pad('Skip for now')
  await expect(page.getByText(/1 of \d+/), 'skipped is not counted').toBeVisible()
  await pad('None here')
  await expect(page.getByText(/2 of \d+/)).toBeVisible()
  await page.reload()
  await expect(page.getByText(/2 of \d+/), 'reloading loses nothing').toBeVisible()
  await page.getByRole('button', { name: 'Review', exact: true }).tap()
  await expect(page.getByRole('cell', { name: 'as expected' })).toBeVisible()
  await expect(page.getByText('1 line is far off')).toBeVisible()
  await page.getByLabel(/^Counted again/).fill('0')
  await expect(page.getByText('1 line is far off')).toHaveCount(0)
  await page.getByRole('button', { name: /^Book 2 counted lines/ }).tap()
  await expect(page.getByText(/CT-\d+ is booked/)).toBeVisible()

  // The difference waits here; it is found again in another bin.
  const differences = page.getByRole('listitem').filter({ has: page.getByRole('button', { name: 'Found again' }) })
  await expect(differences.first()).toBeVisible()
  const waiting = await differences.count()
  await differences.first().getByRole('button', { name: 'Found again' }).tap()
  await page.getByRole('dialog').getByRole('button', { name: 'Book it' }).tap()
  await expect(page.getByText(/is back on the shelf/)).toBeVisible()
  await expect(differences).toHaveCount(waiting - 1)
  await page.getByRole('button', { name: 'More' }).tap()
  await page.getByRole('link', { name: 'Stock' }).last().tap()
  await expect(page.getByRole('heading', { name: 'What lies in Wet lab' })).toBeVisible()
  const gloves = await item(page, demo, 'GLV-M')
  await page.goto(`${demo.url}/items/${gloves.id}`)
  await expect(page.getByRole('button', { name: 'On hand everywhere: how it is worked out' })).toHaveText(
    String(await onHand(page, demo, 'GLV-M')),
  )
  expect(await verified(page, demo)).toEqual([])
})
