// A reagent is recalled: it is found in everything that was made of it, and all of it is held in one step.
import { expect, signIn, test, verified } from './stage.ts'

test('a lot of ethanol is recalled: what it is in, who got it; all of it is held, and is not made into anything any more', async ({
  page,
  browser,
  demo,
}) => {
  await signIn(page, demo, 'ines', 'Wet lab')
  const other = await (await browser.newContext()).newPage()
  await signIn(other, demo, 'tova', 'Wet lab')
  // From the bottle that somebody holds, up to what it is made of.
  await page.getByRole('combobox', { name: 'Scan or search' }).fill('PW-13')
  await page.getByRole('option', { name: /PW-13/ }).click()
  await expect(page.getByRole('heading', { level: 1 })).toContainText('PW-13')
  // There the trace is not to be had at first: it comes by itself once it is.
  await other.route('**/trace', route => route.abort(), { times: 1 })
  await other.goto(page.url())
  const there = other.getByRole('region', { name: 'Through all makes' })
  await expect(there.getByRole('listitem').filter({ hasText: 'RE-47' })).toContainText('0.408 L went in')
  const made = page.getByRole('region', { name: 'Through all makes' })
  await expect(made.getByRole('listitem').filter({ hasText: 'RE-47' })).toContainText('0.408 L went in')
  await made.getByRole('link', { name: /Ethanol 96/ }).press('Enter')
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Lot')
  for (const code of ['RE-47', 'PW-12', 'PW-13']) await expect(made.getByRole('link', { name: code })).toBeVisible()
  await expect(made.getByRole('listitem').filter({ hasText: 'PW-12' }).filter({ hasText: 'used by' })).toContainText(
    'Bram',
  )
  // The list of whom to tell, as CSV.
  await made.getByRole('button', { name: 'Save list' }).click()
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('menuitem', { name: 'as CSV, to work on' }).click(),
  ])
  expect(file.suggestedFilename()).toMatch(/^trace-/)
  await made.getByRole('button', { name: 'Hold it and all it is in' }).press('Enter')
  const dialog = page.getByRole('dialog')
  await expect(dialog).toContainText('Probe wash PW-12, Probe wash PW-13')
  await dialog.getByLabel('Why').fill('Its maker found water in it')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('status').filter({ hasText: '4 lots are recalled' })).toBeVisible()
  await expect(other.getByText('recalled', { exact: true }).first(), 'by itself, on the other screen').toBeVisible()
  await page.goto(`${demo.url}/make`)
  await page.getByPlaceholder('Scan or type what goes in').fill('Probe wash')
  await page.getByRole('option', { name: /Probe wash/ }).click()
  await page.getByLabel('Goes in: Probe wash').fill('0.1')
  await expect(page.getByText(/0 there in Wet lab/)).toBeVisible()
  expect(await verified(other, demo)).toEqual([])
})
