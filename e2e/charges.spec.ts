// Who pays: a charge that was wrong goes to another cost centre, what came back spoiled is wasted, a budget warns and then stops.
import { expect, isFor, item, scan, signIn, test, verified } from './stage.ts'

test('a budget warns and then stops; a wrong charge is moved; what comes back spoiled is wasted; each figure opens its slips', async ({
  page,
  browser,
  demo,
}) => {
  await signIn(page, demo, 'tova', 'Wet lab')
  const wipes = await item(page, demo, 'WIP-D')
  // The manager sets a budget that is all but used up.
  await page.goto(`${demo.url}/look-back/budgets`)
  const row = (name: string) => page.getByRole('row').filter({ hasText: name })
  await expect(row('Boats')).toContainText('nearly used up')
  const { rows } = (await (await page.request.get(`${demo.url}/api/budgets`)).json()) as {
    rows: { code: string; used: string }[]
  }
  const used = Number(rows.find(r => r.code === 'BIRD')!.used)
  await row('Seabird survey').getByRole('button', { name: 'Set the budget of Seabird survey' }).press('Enter')
  await page.getByLabel('It may use in the year').fill((used + 10).toFixed(2))
  await page.getByLabel('Stop beyond, in per cent').fill('100')
  await page.keyboard.press('Enter')
  await expect(row('Seabird survey')).toContainText('nearly used up')
  // Who hands out is told; beyond the stop it is refused, with what can be done, and nothing is lost.
  const keeper = await (await browser.newContext()).newPage()
  await signIn(keeper, demo, 'ines', 'Wet lab')
  await keeper.goto(`${demo.url}/issue`)
  await isFor(keeper, 'Seabird survey')
  await scan(keeper, wipes.codes[0]!)
  await expect(keeper.getByText(/With this, Seabird survey has used (99|100)\.?\d* % of its budget/)).toBeVisible()
  await keeper.getByLabel('Handed out: Lint-free wipes').fill('9')
  await keeper.keyboard.press('Control+Enter')
  await expect(keeper.getByRole('alert').filter({ hasText: 'nothing more is charged to it' })).toBeVisible()
  await expect(keeper.getByLabel('Handed out: Lint-free wipes')).toHaveValue('9')
  await isFor(keeper, 'Medical')
  await keeper.keyboard.press('Control+Enter')
  await expect(keeper.getByText(/IS-\d+ is booked/)).toBeVisible()
  // It was for the boats after all: four of them, by keyboard.
  await keeper.getByRole('button', { name: 'Open it' }).click()
  await keeper.getByRole('button', { name: 'Charge it to somebody else' }).press('Enter')
  const whom = keeper.getByRole('combobox', { name: 'To whom instead' })
  await expect(whom).toBeFocused()
  await whom.fill('Boats')
  await whom.press('Enter')
  await keeper.getByLabel('Charged elsewhere: Lint-free wipes').fill('4')
  await keeper.keyboard.press('Control+Enter')
  await expect(keeper.getByText(/CH-\d+ is booked: charged to Boats/)).toBeVisible()
  // Of the rest two come back, torn.
  await keeper.getByRole('button', { name: 'Bring some of it back' }).press('Enter')
  await keeper.getByLabel('Brought back: Lint-free wipes').fill('2')
  await keeper.getByLabel('Where it goes: Lint-free wipes').selectOption({ label: 'wasted: Damaged' })
  await keeper.keyboard.press('Tab')
  await keeper.getByRole('button', { name: /^Book 1 line back/ }).press('Enter')
  await expect(keeper.getByText(/BB-\d+ is booked: brought back/)).toBeVisible()
  // The manager's page has heard of it; its figure opens the slip.
  await expect(row('Boats')).toContainText('Change')
  await row('Boats').getByRole('link').first().click()
  await expect(page.getByRole('row').filter({ hasText: 'Charged elsewhere' })).toBeVisible()
  await page.goto(`${demo.url}/look-back/waste`)
  await page.getByRole('table', { name: 'Why' }).getByRole('link', { name: 'Damaged' }).press('Enter')
  await expect(page.getByRole('row').filter({ hasText: 'Brought back' }).first()).toBeVisible()
  expect(await verified(page, demo)).toEqual([])
})
